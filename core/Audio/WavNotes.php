<?php

namespace Pestle\Core\Audio;

/**
 * What a WAV file says of itself behind its sound: what it is called, where it goes round, places, and how loud it is.
 * Sources: Microsoft, "Multimedia Programming Interface and Data Specifications 1.0" (LIST INFO) and "New Multimedia Data
 * Types and Data Techniques" ("cue ", "smpl"); EBU Tech 3285, "Specification of the Broadcast Wave Format", version 2 ("bext").
 */
final readonly class WavNotes
{
    private const MAKER = 'Pestle';
    /** What stands for a loudness nobody measured. */
    private const UNKNOWN = 0x7FFF;

    /**
     * @param string                   $about    in a line: tempo, key
     * @param array{int, int}|null     $loop     first frame and the one after the last
     * @param array<string, int>       $places   frames by name
     * @param array{float, float}|null $loudness integrated, in LUFS, and true peak, in dBTP
     */
    public function __construct(public string $title, public string $about, public ?array $loop = null, public array $places = [], public ?array $loudness = null)
    {
    }

    /** The same for a file at another rate. */
    public function atRate(int $from, int $to): self
    {
        $at = static fn (int $frame): int => (int) round($frame * $to / $from);

        return new self($this->title, $this->about, null === $this->loop ? null : [$at($this->loop[0]), $at($this->loop[1])], array_map($at, $this->places), $this->loudness);
    }

    /** All of it as chunks. */
    public function chunks(int $sampleRate, \DateTimeImmutable $made): string
    {
        $info = 'INFO';
        foreach (array_filter(['INAM' => $this->title, 'ICMT' => $this->about, 'ISFT' => self::MAKER, 'ICRD' => $made->format('Y-m-d')]) as $id => $text) {
            $info .= self::chunk($id, $text."\0");
        }

        return self::chunk('LIST', $info).self::chunk('bext', $this->broadcast($made)).$this->loopChunk($sampleRate).$this->cues();
    }

    private function broadcast(\DateTimeImmutable $made): string
    {
        $fixed = static fn (string $text, int $bytes): string => str_pad(mb_strcut($text, 0, $bytes, 'UTF-8'), $bytes, "\0");
        $hundredths = fn (int $i): int => null === $this->loudness ? self::UNKNOWN : max(-9999, (int) round(100.0 * $this->loudness[$i]));
        $loudness = pack('v5', ...array_map(static fn (int $value): int => $value & 0xFFFF, [$hundredths(0), self::UNKNOWN, $hundredths(1), self::UNKNOWN, self::UNKNOWN]));

        return $fixed($this->title.' - '.$this->about, 256).$fixed(self::MAKER, 32).$fixed('', 32).$made->format('Y-m-d').$made->format('H:i:s').pack('Pv', 0, 2).str_repeat("\0", 64).$loudness.str_repeat("\0", 180);
    }

    private function loopChunk(int $sampleRate): string
    {
        return null === $this->loop ? '' : self::chunk('smpl', pack('V9', 0, 0, intdiv(1_000_000_000, $sampleRate), 60, 0, 0, 0, 1, 0).pack('V6', 0, 0, $this->loop[0], $this->loop[1] - 1, 0, 0));
    }

    private function cues(): string
    {
        if ([] === $this->places) {
            return '';
        }
        $cues = $labels = '';
        $id = 0;
        foreach ($this->places as $name => $frame) {
            ++$id;
            $cues .= pack('VV', $id, $frame).'data'.pack('VVV', 0, 0, $frame);
            $labels .= self::chunk('labl', pack('V', $id).$name."\0");
        }

        return self::chunk('cue ', pack('V', $id).$cues).self::chunk('LIST', 'adtl'.$labels);
    }

    private static function chunk(string $id, string $bytes): string
    {
        return $id.pack('V', \strlen($bytes)).$bytes.(1 === \strlen($bytes) % 2 ? "\0" : '');
    }
}
