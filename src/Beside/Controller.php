<?php

namespace Pestle\App\Beside;

/**
 * A controller: pads or keys, sliders, turners without end, pressure and bend, moved by what is typed. What comes back
 * lights its pads and sets its positions, which it tells. Source: MIDI 1.0 Detailed Specification, Channel Voice Messages.
 */
final class Controller implements Device
{
    /** @var list<string> */
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
        [$word, $first, $second] = [...explode(' ', $command), '', '', ''];
        $byte = static fn (string $text): string => \chr(max(0, min(127, (int) $text)));
        $bytes = match ($word) {
            'strike' => "\x90".$byte($first).$byte('' === $second ? '100' : $second),
            'release' => "\x80".$byte($first)."\0",
            'press' => "\xA0".$byte($first).$byte($second),
            'pressure' => "\xD0".$byte($first),
            'slider' => "\xB0".$byte($first).$byte($second),
            // How far it was turned, in two's complement: what it stands at, it does not know.
            'turn' => "\xB0".$byte($first).\chr((int) $second & 127),
            'bend' => "\xE0".\chr((int) $first & 127).\chr((int) $first >> 7 & 127),
            default => throw new \InvalidArgumentException('It knows: strike NOTE STRENGTH, release NOTE, press NOTE STRENGTH, pressure STRENGTH, slider NUMBER VALUE, turn NUMBER STEPS, bend 0-16383, quit.'),
        };
        $this->out[] = $bytes;

        return \sprintf('sent %s', bin2hex($bytes));
    }

    public function turn(float $now, Outlet $out): float
    {
        foreach ($this->out as $bytes) {
            $out->midi($bytes, $now);
        }
        foreach ($this->news as $line) {
            $out->say($line);
        }
        $this->out = $this->news = [];

        return \INF;
    }
}
