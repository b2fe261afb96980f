<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Kit\Role;

/** What is said of one slice: where it ends when not at the next marker, what it is, how it plays. */
final readonly class SliceSettings
{
    public const MAX_GAIN_DB = 12.0;

    /** @param int|null $end frame after its last; beyond the next marker it overlaps what follows */
    public function __construct(public ?int $end = null, public string $name = '', public ?Role $role = null, public bool $reversed = false, public float $gainDb = 0.0)
    {
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{end: int|null, name: string, role: Role|null, reversed: bool, gainDb: float} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function saysNothing(): bool
    {
        return null === $this->end && '' === $this->name && null === $this->role && !$this->reversed && 0.0 === $this->gainDb;
    }

    /** @return array<string, string|int|float|bool|null> */
    public function toArray(): array
    {
        return ['end' => $this->end, 'name' => $this->name, 'role' => $this->role?->value, 'reversed' => $this->reversed, 'gainDb' => $this->gainDb];
    }
}
