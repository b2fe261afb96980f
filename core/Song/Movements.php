<?php

namespace Pestle\Core\Song;

/** All that moves in a beat. */
final readonly class Movements
{
    public const MOST = 500;

    /** @param array<string, Movement> $all by id */
    public function __construct(public array $all = [])
    {
        if (\count($all) > self::MOST) {
            throw new \InvalidArgumentException(\sprintf('At most %d parameters move in a beat: let one stay first.', self::MOST));
        }
    }

    public static function of(Movement ...$movements): self
    {
        $all = [];
        foreach ($movements as $movement) {
            $all[$movement->id()] = $movement;
        }

        return new self($all);
    }

    public function with(Movement $movement): self
    {
        return new self(array_replace($this->all, [$movement->id() => $movement]));
    }

    public function without(string $id): self
    {
        return new self(array_diff_key($this->all, [$id => true]));
    }

    public function find(Scope $scope, string $of, string $path): ?Movement
    {
        return $this->all[Movement::key($scope, $of, $path)] ?? null;
    }

    public function isEmpty(): bool
    {
        return [] === $this->all;
    }

    /** @param \Closure(Movement): bool $which */
    public function only(\Closure $which): self
    {
        return new self(array_filter($this->all, $which));
    }

    /** @param \Closure(Movement): Movement $how */
    public function each(\Closure $how): self
    {
        return self::of(...array_values(array_map($how, $this->all)));
    }

    public function and(self $others): self
    {
        return new self(array_replace($this->all, $others->all));
    }

    /** What belongs to sections and patterns that are still there. */
    public function ownedBy(Scope $scope, string ...$ids): self
    {
        return $this->only(static fn (Movement $m): bool => $m->scope !== $scope || \in_array($m->of, $ids, true));
    }

    /** What belongs to a section or pattern belongs to its copy as well. */
    public function copied(Scope $scope, string $from, string $to): self
    {
        $copies = array_filter($this->all, static fn (Movement $m): bool => $m->scope === $scope && $m->of === $from);

        return $this->and(self::of(...array_values(array_map(static fn (Movement $m): Movement => $m->with(['of' => $to]), $copies))));
    }
}
