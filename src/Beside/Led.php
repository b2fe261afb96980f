<?php

namespace Pestle\App\Beside;

/** How a clock is led by the pulses of another: where it is, how fast it goes and how evenly. */
final class Led
{
    /** Pulses that its tempo is told by: two quarters. */
    private const BY = 48;
    /** Pulses that stay away for so many milliseconds are told. */
    private const AWAY = 1_000.0;

    /** @var list<float> moments of the last pulses */
    private array $pulses = [];
    private bool $runs = false;
    private int $place = 0;
    /** @var list<string> */
    private array $news = [];

    public function receive(string $midi, float $at): void
    {
        foreach (str_split($midi) as $i => $byte) {
            match (\ord($byte)) {
                0xF8 => $this->pulse($at),
                0xFA => $this->run(0, 'starts', $at),
                0xFB => $this->run($this->place, 'goes on', $at),
                0xFC => $this->stop($at),
                0xF2 => $this->place = 6 * (\ord($midi[$i + 1] ?? "\0") + 128 * \ord($midi[$i + 2] ?? "\0")),
                default => null,
            };
        }
    }

    /** @return list<string> what is new since it was asked last */
    public function news(float $now): array
    {
        if ([] !== $this->pulses && $now - end($this->pulses) > self::AWAY) {
            $this->pulses = [];
            $this->news[] = 'led: the pulses stay away';
        }
        [$news, $this->news] = [$this->news, []];

        return $news;
    }

    public function told(): string
    {
        $gaps = array_map(static fn (float $a, float $b): float => $b - $a, \array_slice($this->pulses, 0, -1), \array_slice($this->pulses, 1));
        if (\count($gaps) < self::BY - 1) {
            return 'led: by nobody';
        }
        $mean = array_sum($gaps) / \count($gaps);

        return \sprintf('led: %s, %.2f BPM, quarter %d, pulses within %.2f ms', $this->runs ? 'runs' : 'stands', 60_000.0 / Clock::PULSES / $mean, intdiv(max(0, $this->place - 1), Clock::PULSES) + 1, max(array_map(static fn (float $gap): float => abs($gap - $mean), $gaps)));
    }

    private function pulse(float $at): void
    {
        $this->pulses = \array_slice([...$this->pulses, $at], -self::BY);
        $this->place += (int) $this->runs;
    }

    private function run(int $place, string $how, float $at): void
    {
        [$this->runs, $this->place] = [true, $place];
        $this->news[] = \sprintf('led: %s at %.1f', $how, $at);
    }

    private function stop(float $at): void
    {
        $this->runs = false;
        $this->news[] = \sprintf('led: stops at %.1f', $at);
    }
}
