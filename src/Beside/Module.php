<?php

namespace Pestle\App\Beside;

/**
 * A box that answers notes with sound: late by what it does not tell, with hiss and hum of its own, as boxes are. Its sound
 * is a saw that darkens as it dies away.
 */
final class Module implements Device
{
    public const RATE = 44_100;
    private const BLOCK = 441;
    private const HISS = 0.0018;
    private const HUM = 0.0022;
    private const HUM_HZ = 50.0;
    private const VOICES = 8;
    /** Messages that wait for their moment. */
    private const MOST = 2_000;
    /** Controllers that say: all sound off, all notes off. */
    private const ALL_OFF = [120, 123];
    private const RELEASE_SECONDS = 0.12;
    private const LEVEL = 0.22;

    /** @var list<array{float, string}> what is to be done, by moment */
    private array $due = [];
    /** @var array<int, array{hz: float, level: float, phase: float, low: float, loud: float, off: bool}> by note */
    private array $voices = [];
    private int $frame = 0;
    private float $began = 0.0;
    private int $noise = 1;
    /** @var list<string> */
    private array $news = [];

    /** @param float $lateMs what it takes to answer */
    public function __construct(private readonly float $lateMs = 23.4)
    {
    }

    public function kind(): string
    {
        return 'module';
    }

    public function receive(string $midi, float $at): void
    {
        if (\count($this->due) >= self::MOST) {
            return;
        }
        $this->due[] = [$at + $this->lateMs, $midi];
        usort($this->due, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
    }

    public function typed(string $command): string
    {
        return match ($command) {
            'quiet' => $this->hush(),
            default => throw new \InvalidArgumentException('It knows: quiet, quit.'),
        };
    }

    public function turn(float $now, Outlet $out): float
    {
        $block = 1000.0 * self::BLOCK / self::RATE;
        if (0.0 === $this->began || $now - $this->moment() > 1000.0) {
            // Switched on, or asleep for long: it goes on from now.
            $this->began = $now - 1000.0 * $this->frame / self::RATE;
        }
        while ($this->moment() + $block <= $now) {
            $sound = $this->block();
            if ($out->isHeard()) {
                $out->sound($this->frame, $this->moment(), $sound);
            }
            $this->frame += self::BLOCK;
        }
        foreach ($this->news as $line) {
            $out->say($line);
        }
        $this->news = [];

        return $this->moment() + $block;
    }

    /** When the next frame is at its output. */
    private function moment(): float
    {
        return $this->began + 1000.0 * $this->frame / self::RATE;
    }

    /** @return list<float> */
    private function block(): array
    {
        $sound = [];
        $from = $this->moment();
        for ($i = 0; $i < self::BLOCK; ++$i) {
            $moment = $from + 1000.0 * $i / self::RATE;
            while ([] !== $this->due && $this->due[0][0] <= $moment) {
                [$at, $midi] = array_shift($this->due);
                $this->play($midi, $at - $this->lateMs);
            }
            $x = self::HUM * sin(2.0 * \M_PI * self::HUM_HZ * ($this->frame + $i) / self::RATE) + self::HISS * $this->hiss();
            foreach ($this->voices as $note => $voice) {
                $x += $this->sample($note, $voice);
            }
            $sound[] = $x;
        }

        return $sound;
    }

    /** @param array{hz: float, level: float, phase: float, low: float, loud: float, off: bool} $voice */
    private function sample(int $note, array $voice): float
    {
        $phase = $voice['phase'] + $voice['hz'] / self::RATE;
        $phase -= floor($phase);
        $low = $voice['low'] + (0.02 + 0.3 * $voice['loud']) * (2.0 * $phase - 1.0 - $voice['low']);
        $seconds = $voice['off'] ? self::RELEASE_SECONDS / 5.0 : 1.2;
        $loud = $voice['loud'] * exp(-1.0 / $seconds / self::RATE);
        $this->voices[$note] = ['phase' => $phase, 'low' => $low, 'loud' => $loud] + $voice;
        if ($loud < 1e-4) {
            unset($this->voices[$note]);
        }

        return self::LEVEL * $voice['level'] * $loud * $low;
    }

    private function play(string $midi, float $sent): void
    {
        [$status, $note, $strength] = [\ord($midi[0]) & 0xF0, \ord($midi[1] ?? "\0"), \ord($midi[2] ?? "\0")];
        if (0x90 === $status && $strength > 0) {
            $this->voices = \array_slice($this->voices, 1 - self::VOICES, null, true);
            $this->news[] = \sprintf('note %d, strength %d, at %.1f', $note, $strength, $sent);
            $this->voices[$note] = ['hz' => 440.0 * 2 ** (($note - 69) / 12), 'level' => $strength / 127, 'phase' => 0.5, 'low' => 0.0, 'loud' => 1.0, 'off' => false];
        } elseif (isset($this->voices[$note]) && (0x80 === $status || 0x90 === $status)) {
            $this->voices[$note]['off'] = true;
        } elseif (0xB0 === $status && \in_array($note, self::ALL_OFF, true)) {
            $this->voices = [];
        }
    }

    /** White noise. Source: Park and Miller 1988, by 16807. */
    private function hiss(): float
    {
        $this->noise = $this->noise * 16_807 % 2_147_483_647;

        return 2.0 * $this->noise / 2_147_483_647 - 1.0;
    }

    private function hush(): string
    {
        [$this->voices, $this->due] = [[], []];

        return 'It is quiet.';
    }
}
