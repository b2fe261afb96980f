<?php

namespace Pestle\Core\Kit;

/**
 * A pad and its sound: a stretch of a sample (frames of the source, end exclusive),
 * its level (dB), place (-1 left to 1 right) and tuning (cents).
 */
final readonly class Pad
{
    public const MIN_LEVEL_DB = -60.0;
    public const MAX_LEVEL_DB = 12.0;
    public const MAX_TUNE_CENTS = 3600;
    public const CHOKE_GROUPS = 8;

    public function __construct(
        public string $id,
        public string $name,
        public Role $role,
        public string $sample,
        public int $start,
        public int $end,
        public string $channel,
        public float $levelDb = 0.0,
        public float $pan = 0.0,
        public int $tuneCents = 0,
        public PlayMode $mode = PlayMode::OneShot,
        public int $choke = 0,
    ) {
        if ($start < 0 || $end <= $start) {
            throw new \InvalidArgumentException(\sprintf('Pad %s: the end of its sound must lie after its start.', $name));
        }
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{id: string, name: string, role: Role, sample: string, start: int, end: int, channel: string, levelDb: float, pan: float, tuneCents: int, mode: PlayMode, choke: int} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** @return array<string, string|int|float> */
    public function toArray(): array
    {
        /** @var array<string, string|int|float> $plain */
        $plain = [...get_object_vars($this), 'role' => $this->role->value, 'mode' => $this->mode->value];

        return $plain;
    }
}
