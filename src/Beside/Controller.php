<?php

namespace Pestle\App\Beside;

/**
 * A controller: pads or keys, sliders, turners without end, pressure and bend, moved by what is typed. What comes back
 * lights its pads and sets its positions, which it tells. Source: MIDI 1.0 Detailed Specification, Channel Voice Messages.
 */
final class Controller implements Device
{
    private const MOST = 1_000;

    /** @var list<array{float, string}> what is sent, and when */
    private array $out = [];
    /** @var list<string> */
    private array $news = [];

    public function kind(): string
    {
        return 'controller';
    }

    public function receive(string $midi, float $at): void
    {
        [$status, $first, $second] = [\ord($midi[0]), \ord($midi[1] ?? "\0"), \ord($midi[2] ?? "\0")];
        $told = match ($status & 0xF0) {
            0x90 => 0 === $second ? \sprintf('pad %d is dark', $first) : \sprintf('pad %d lights %d', $first, $second),
            0x80 => \sprintf('pad %d is dark', $first),
            0xB0 => \sprintf('slider %d stands at %d', $first, $second),
            default => null,
        };
        if (null !== $told) {
            $this->news[] = $told;
        }
    }

    public function typed(string $command): string
    {
        [$word, $first, $second, $third, $fourth] = [...explode(' ', $command), '', '', '', '', ''];
        $byte = static fn (string $text): string => \chr(max(0, min(127, (int) $text)));
        if ('beat' === $word) {
            return $this->beat($byte($first), $byte($second), (float) $third, (int) $fourth);
        }
        $bytes = match ($word) {
            'strike' => "\x90".$byte($first).$byte('' === $second ? '100' : $second),
            'release' => "\x80".$byte($first)."\0",
            'press' => "\xA0".$byte($first).$byte($second),
            'pressure' => "\xD0".$byte($first),
            'slider' => "\xB0".$byte($first).$byte($second),
            // How far it was turned, in two's complement: what it stands at, it does not know.
            'turn' => "\xB0".$byte($first).\chr((int) $second & 127),
            'bend' => "\xE0".\chr((int) $first & 127).\chr((int) $first >> 7 & 127),
            default => throw new \InvalidArgumentException('It knows: strike NOTE STRENGTH, release NOTE, press NOTE STRENGTH, pressure STRENGTH, slider NUMBER VALUE, turn NUMBER STEPS, bend 0-16383, beat NOTE STRENGTH MILLISECONDS TIMES, quit.'),
        };
        $this->out[] = [0.0, $bytes];

        return \sprintf('sent %s', bin2hex($bytes));
    }

    public function turn(float $now, Outlet $out): float
    {
        $due = array_filter($this->out, static fn (array $one): bool => $one[0] <= $now);
        $this->out = array_values(array_diff_key($this->out, $due));
        foreach ($due as [$at, $bytes]) {
            $out->midi($bytes, 0.0 === $at ? $now : $at);
        }
        foreach ($this->news as $line) {
            $out->say($line);
        }
        $this->news = [];

        return min([\INF, ...array_column($this->out, 0)]);
    }

    /** The same strike again and again, evenly. */
    private function beat(string $note, string $strength, float $every, int $times): string
    {
        $from = StandIn::now() + $every;
        for ($i = 0; $i < min(self::MOST, $times); ++$i) {
            $this->out[] = [$from + $i * $every, "\x90".$note.$strength];
            $this->out[] = [$from + ($i + 0.5) * $every, "\x80".$note."\0"];
        }

        return \sprintf('beats %d times, every %.1f ms', min(self::MOST, $times), $every);
    }
}
