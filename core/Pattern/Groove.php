<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\Ticks;

/**
 * How somebody plays: for every place of a grid how far behind it a hit falls, and how loud it is against the others.
 * Places at which nothing was played lie between their neighbours.
 */
final readonly class Groove
{
    public const MOST_SLOTS = 1024;

    /**
     * @param int                                      $grid  ticks of its base division
     * @param non-empty-list<array{float, float}|null> $slots ticks behind the place, before 0 ahead of it, and loudness as a factor; null where nothing was played
     */
    public function __construct(public string $id, public string $name, public int $grid, public array $slots)
    {
        if ($grid < 15 || $grid > 4 * Ticks::PER_QUARTER) {
            throw new \InvalidArgumentException('The base division of a groove must be a 1/256 to a whole note.');
        }
        if (\count($slots) > self::MOST_SLOTS) {
            throw new \InvalidArgumentException(\sprintf('A groove has at most %s places: choose a coarser division.', number_format(self::MOST_SLOTS)));
        }
        foreach ($slots as $slot) {
            if (null !== $slot && (!is_finite($slot[0]) || abs($slot[0]) > $grid || !($slot[1] >= 0.0 && $slot[1] <= 8.0))) {
                throw new \InvalidArgumentException('A hit of a groove lies at most one place off, and is at most eight times as loud as the others.');
            }
        }
    }

    /**
     * As it was played: of several hits at one place the loudest counts.
     *
     * @param int                       $ticks  length that goes round
     * @param list<array{float, float}> $played tick and loudness (any unit that is 0 for silence)
     */
    public static function taken(string $id, string $name, int $grid, int $ticks, array $played): self
    {
        $count = max(1, (int) round($ticks / $grid));
        $loudest = array_fill(0, $count, null);
        foreach ($played as [$tick, $level]) {
            $slot = (int) round($tick / $grid);
            $place = (($slot % $count) + $count) % $count;
            if (null === $loudest[$place] || $level > $loudest[$place][1]) {
                $loudest[$place] = [$tick - $slot * $grid, $level];
            }
        }
        $there = array_filter($loudest);
        $mean = [] === $there ? 0.0 : array_sum(array_column($there, 1)) / \count($there);

        return new self($id, $name, $grid, array_map(static fn (?array $s): ?array => null === $s ? null : [round($s[0], 3), $mean > 0.0 ? min(8.0, round($s[1] / $mean, 3)) : 1.0], array_values($loudest)));
    }

    /**
     * What is done to a hit at a place.
     *
     * @return array{float, float} ticks later, and factor of its loudness
     */
    public function at(float $tick): array
    {
        $count = \count($this->slots);
        $slot = (int) round($tick / $this->grid);
        $place = (($slot % $count) + $count) % $count;
        if (null !== $this->slots[$place]) {
            return $this->slots[$place];
        }
        for ($before = 1; $before < $count && null === $this->slots[($place - $before + $count) % $count]; ++$before) {
        }
        for ($after = 1; $after < $count && null === $this->slots[($place + $after) % $count]; ++$after) {
        }
        $left = $this->slots[($place - $before + $count) % $count][0] ?? 0.0;
        $right = $this->slots[($place + $after) % $count][0] ?? 0.0;

        return [$left + ($right - $left) * $before / ($before + $after), 1.0];
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['id' => $this->id, 'name' => $this->name, 'grid' => $this->grid, 'slots' => array_map(static fn (?array $s): ?array => null === $s ? null : [round($s[0], 3), round($s[1], 3)], $this->slots)];
    }
}
