<?php

namespace Pestle\Core\Song;

use Pestle\Core\Mix\DelaySettings;
use Pestle\Core\Mix\FilterSettings;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\SweptShape;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Ticks;

/** What lies over all that plays while it is held. */
enum HeldEffect: string
{
    /** The tone closes over a bar, and opens again within a quarter of one. */
    case Tone = 'tone';
    /** All grows thin from below. */
    case Thin = 'thin';
    /** What is just played comes again. */
    case Echo = 'echo';
    /** The sixteenth that is just played, over and over. */
    case Stutter = 'stutter';
    /** All patterns half as fast; let go they are where they would be. */
    case Half = 'half';
    /** All patterns backwards from where they are; let go they are where they would be. */
    case Backwards = 'backwards';

    /** Ticks that stutter. */
    public const STUTTER = Ticks::PER_STEP;

    private const OPEN_HZ = 18_000.0;
    private const WHOLE_HZ = 30.0;
    /** Let go it is back within such a part of a bar. */
    private const BACK = 4;
    /** Straight pieces of a way by equal steps of pitch. */
    private const STEPS = 8;

    public function label(): string
    {
        return match ($this) {
            self::Tone => 'Close the tone',
            self::Thin => 'Thin out',
            self::Echo => 'Echo what is played',
            self::Stutter => 'Stutter',
            self::Half => 'Half as fast',
            self::Backwards => 'Backwards',
        };
    }

    /** Whether patterns play it; the others lie in the way of the sound. */
    public function isPlayed(): bool
    {
        return \in_array($this, [self::Stutter, self::Half, self::Backwards], true);
    }

    /** What a choice says of it: of everything, or of one part. */
    public function of(string $part): string
    {
        return $this->value.('' === $part ? '' : '/'.$part);
    }

    /** As it is where nothing is held: it lets all through. */
    public function insert(string $id): InsertSettings
    {
        return match ($this) {
            self::Stutter, self::Half, self::Backwards => throw new \LogicException('It is played by patterns.'),
            self::Tone => new FilterSettings($id, shape: SweptShape::Low, cutoffHz: self::OPEN_HZ, resonance: 0.3, mix: 0.0),
            self::Thin => new FilterSettings($id, shape: SweptShape::High, cutoffHz: self::WHOLE_HZ, resonance: 0.3, mix: 0.0),
            self::Echo => new DelaySettings($id, sixteenths: 3, feedback: 70.0, mix: 0.0),
        };
    }

    /**
     * Points of its settings' curves.
     *
     * @param array<int, array{int, int|null}> $times ticks at which it is held and let go; null while it is held
     * @param int                              $bar   ticks
     *
     * @return array<string, non-empty-list<array{float, float, float}>> by setting; none of what patterns play
     */
    public function moves(array $times, int $bar): array
    {
        $back = self::Echo === $this ? 0 : intdiv($bar, self::BACK);
        $mix = [[0.0, 0.0, 1.0]];
        foreach (array_values($times) as $i => [$from, $to]) {
            $mix[] = [(float) $from, self::Echo === $this ? 60.0 : 100.0, 1.0];
            // Held again before it is back it goes on from where it is.
            if (null !== $to && (array_values($times)[$i + 1][0] ?? \PHP_INT_MAX) >= $to + $back) {
                $mix[] = [(float) ($to + $back), 0.0, 1.0];
            }
        }

        return match ($this) {
            self::Tone => ['mix' => $mix, 'cutoffHz' => self::swept($times, $bar, self::OPEN_HZ, 320.0)],
            self::Thin => ['mix' => $mix, 'cutoffHz' => self::swept($times, $bar, self::WHOLE_HZ, 1400.0)],
            self::Echo => ['mix' => $mix],
            self::Stutter, self::Half, self::Backwards => [],
        };
    }

    /**
     * What comes later changes nothing before it: what was heard is what is kept.
     *
     * @param array<int, array{int, int|null}> $times
     *
     * @return non-empty-list<array{float, float, float}>
     */
    private static function swept(array $times, int $bar, float $open, float $closed): array
    {
        $points = [[0.0, $open, 1.0]];
        $value = $open;
        foreach (array_values($times) as $i => [$from, $to]) {
            $way = self::way($from, $value, $closed, $bar);
            if (null === $to) {
                return [...$points, ...$way];
            }
            $down = self::until($way, $to);
            $way = self::way($to, $down[\count($down) - 1][1], $open, intdiv($bar, self::BACK));
            $up = self::until($way, array_values($times)[$i + 1][0] ?? \PHP_INT_MAX);
            $value = $up[\count($up) - 1][1];
            $points = [...$points, ...$down, ...$up];
        }

        return $points;
    }

    /**
     * From one place to another by equal steps of pitch.
     *
     * @return non-empty-list<array{float, float, float}>
     */
    private static function way(int $at, float $from, float $to, int $ticks): array
    {
        $points = [[(float) $at, $from, 0.0]];
        for ($i = 1; $i <= self::STEPS; ++$i) {
            $points[] = [$at + $ticks * $i / self::STEPS, $from * ($to / $from) ** ($i / self::STEPS), self::STEPS === $i ? 1.0 : 0.0];
        }

        return $points;
    }

    /**
     * A way as far as a tick, and where it is there.
     *
     * @param non-empty-list<array{float, float, float}> $way
     *
     * @return non-empty-list<array{float, float, float}>
     */
    private static function until(array $way, int $tick): array
    {
        if ($tick >= $way[\count($way) - 1][0]) {
            return $way;
        }
        $kept = array_filter($way, static fn (array $point): bool => $point[0] < $tick);

        return [...array_values($kept), [(float) $tick, (new Curve($way))->at($tick), 1.0]];
    }
}
