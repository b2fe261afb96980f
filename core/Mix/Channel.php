<?php

namespace Pestle\Core\Mix;

/** A line of the mixer: what its pads play, shaped, set in level (dB) and place (-1 to 1). */
final readonly class Channel
{
    public const MIN_GAIN_DB = -60.0;
    public const MAX_GAIN_DB = 12.0;

    /** @param list<EqBand> $eq four bands */
    public function __construct(
        public string $id,
        public string $name,
        public ?string $group = null,
        public float $gainDb = 0.0,
        public float $pan = 0.0,
        public bool $mute = false,
        public bool $solo = false,
        public array $eq = [],
        public CompressorSettings $compressor = new CompressorSettings(),
    ) {
    }

    public static function named(string $id, string $name, ?string $group): self
    {
        return new self($id, $name, $group, eq: EqBand::defaults());
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{id: string, name: string, group: string|null, gainDb: float, pan: float, mute: bool, solo: bool, eq: list<EqBand>, compressor: CompressorSettings} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function withBand(int $index, EqBand $band): self
    {
        $eq = $this->eq;
        $eq[$index] = $band;

        return $this->with(['eq' => array_values($eq)]);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        /** @var array<string, mixed> $plain */
        $plain = [
            ...get_object_vars($this),
            'eq' => array_map(static fn (EqBand $b): array => $b->toArray(), $this->eq),
            'compressor' => $this->compressor->toArray(),
        ];

        return $plain;
    }
}
