<?php

namespace Pestle\Tests\Hearing;

/** Notes with their times in seconds, written as a Standard MIDI File and played by fluidsynth. */
final class Score
{
    private const TICKS_A_SECOND = 19200;
    /** @var list<array{float, string}> time and message */
    private array $events = [];

    public function program(int $channel, int $program): void
    {
        $this->events[] = [0.0, pack('C2', 0xC0 | $channel, $program)];
    }

    public function note(float $at, float $seconds, int $channel, int $note, int $velocity): void
    {
        $this->events[] = [$at, pack('C3', 0x90 | $channel, $note, max(1, min(127, $velocity)))];
        $this->events[] = [$at + $seconds, pack('C3', 0x80 | $channel, $note, 0)];
    }

    /** For a kit that is no General MIDI bank: one preset on an ordinary channel, which holds fewer drums. */
    public function onPlainKit(): self
    {
        $kit = new self();
        foreach ($this->events as [$time, $message]) {
            if (9 === (\ord($message[0]) & 15)) {
                $message[0] = \chr(\ord($message[0]) + 1);
                $message[1] = \chr(0xC0 === (\ord($message[0]) & 0xF0) ? 0 : self::onPlain(\ord($message[1])));
            }
            $kit->events[] = [$time, $message];
        }

        return $kit;
    }

    private static function onPlain(int $note): int
    {
        return [35 => 36, 44 => 42, 48 => 45, 50 => 43][$note] ?? ($note >= 60 ? [54, 56][$note % 2] : $note);
    }

    /** Without what a channel plays. */
    public function without(int $channel): self
    {
        $rest = new self();
        $rest->events = array_values(array_filter($this->events, static fn (array $event): bool => (\ord($event[1][0]) & 15) !== $channel));

        return $rest;
    }

    /** @throws \RuntimeException when fluidsynth or the soundfont is missing */
    public function render(string $soundfont, string $wav, bool $room): void
    {
        usort($this->events, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        $track = '';
        $before = 0;
        foreach ($this->events as [$time, $message]) {
            $tick = (int) round($time * self::TICKS_A_SECOND);
            $track .= self::variable($tick - $before).$message;
            $before = $tick;
        }
        $track .= "\x00\xFF\x2F\x00";
        // 9600 ticks a quarter at the default 120 BPM.
        file_put_contents($wav.'.mid', 'MThd'.pack('Nn3', 6, 0, 1, 9600).'MTrk'.pack('N', \strlen($track)).$track);
        exec(\sprintf('fluidsynth -ni -q -r 44100 -g 0.6 -R %d -C 0 -F %s %s %s 2>&1', $room ? 1 : 0, escapeshellarg($wav), escapeshellarg($soundfont), escapeshellarg($wav.'.mid')), $said, $status);
        unlink($wav.'.mid');
        0 === $status && is_file($wav) || throw new \RuntimeException('fluidsynth did not render: '.implode("\n", $said));
    }

    private static function variable(int $value): string
    {
        $bytes = \chr($value & 0x7F);
        while (($value >>= 7) > 0) {
            $bytes = \chr(0x80 | ($value & 0x7F)).$bytes;
        }

        return $bytes;
    }
}
