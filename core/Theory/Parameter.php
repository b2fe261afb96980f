<?php

namespace Pestle\Core\Theory;

/**
 * One thing that can be set: what it is called, its unit, its bounds and what it is when nobody set it. Documents,
 * changes, sliders, curves and the console read it from here.
 */
final readonly class Parameter
{
    /**
     * @param string                         $unit   as it is read after the value; empty for none
     * @param bool                           $whole  whether only whole numbers fit
     * @param class-string<\BackedEnum>|null $choice where it is one of several
     * @param int                            $places decimals that are shown
     * @param bool                           $moves  whether a curve can move it
     * @param float                          $bend   how its slider runs: 1 evenly, above that finer at its low end
     * @param string                         $still  why no curve can move it, where that is something of its own
     */
    private function __construct(
        public string $name,
        public string $unit,
        public float $least,
        public float $most,
        public bool|int|float|\BackedEnum $default,
        public float $step = 1.0,
        public int $places = 0,
        public bool $whole = false,
        public ?string $choice = null,
        public bool $moves = false,
        public float $bend = 1.0,
        private string $still = '',
    ) {
    }

    public static function number(string $name, string $unit, float $least, float $most, float $default, float $step, int $places = 1, bool $moves = false): self
    {
        return new self($name, $unit, $least, $most, $default, $step, $places, false, null, $moves);
    }

    /** With a slider that is finer at its low end: its value goes with this power of its way. */
    public function bent(float $power): self
    {
        return $this->with(['bend' => $power]);
    }

    /** A curve can move it. */
    public function moving(): self
    {
        return $this->with(['moves' => true]);
    }

    /** No curve can move it, and why. */
    public function settled(string $why): self
    {
        return $this->with(['still' => $why]);
    }

    /** @param array<string, mixed> $changed */
    private function with(array $changed): self
    {
        /** @var array{name: string, unit: string, least: float, most: float, default: bool|int|float|\BackedEnum, step: float, places: int, whole: bool, choice: class-string<\BackedEnum>|null, moves: bool, bend: float, still: string} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public static function whole(string $name, string $unit, int $least, int $most, int $default): self
    {
        return new self($name, $unit, $least, $most, $default, 1.0, 0, true);
    }

    public static function onOff(string $name, bool $default = false): self
    {
        return new self($name, '', 0.0, 1.0, $default);
    }

    public static function choice(string $name, \BackedEnum $default): self
    {
        return new self($name, '', 0.0, 0.0, $default, choice: $default::class);
    }

    /**
     * A value as it came from outside, as the kind it has to be.
     *
     * @throws \InvalidArgumentException says what it must be
     */
    public function read(mixed $value): bool|int|float|\BackedEnum
    {
        if (null !== $this->choice) {
            return (\is_string($value) || \is_int($value) ? $this->choice::tryFrom($value) : null)
                ?? throw new \InvalidArgumentException(\sprintf('must be one of: %s.', implode(', ', array_map(static fn (\BackedEnum $c): string => (string) $c->value, $this->choice::cases()))));
        }
        if (\is_bool($this->default)) {
            return match ($value) {
                true, 1, '1', 'true', 'on' => true,
                false, 0, '0', 'false', 'off' => false,
                default => throw new \InvalidArgumentException('must be on or off.'),
            };
        }
        $number = \is_int($value) || \is_float($value) || (\is_string($value) && is_numeric($value)) ? (float) $value : \NAN;
        if (!($number >= $this->least && $number <= $this->most) || ($this->whole && floor($number) !== $number)) {
            throw new \InvalidArgumentException(\sprintf('must be a %s from %s to %s.', $this->whole ? 'whole number' : 'number', $this->whole ? number_format($this->least) : $this->least, $this->whole ? number_format($this->most) : $this->most));
        }

        return $this->whole ? (int) $number : $number;
    }

    /** Where a value lies on its slider, 0 to 1. */
    public function share(float $value): float
    {
        return $this->most <= $this->least ? 0.0 : max(0.0, min(1.0, ($value - $this->least) / ($this->most - $this->least))) ** (1.0 / $this->bend);
    }

    /** The value at a place of its slider. */
    public function at(float $share): float
    {
        return $this->least + ($this->most - $this->least) * max(0.0, min(1.0, $share)) ** $this->bend;
    }

    /** Why no curve can move it, where that is so. */
    public function whyNot(): string
    {
        return match (true) {
            $this->moves => '',
            '' !== $this->still => $this->still,
            null !== $this->choice => 'it is one of several, with nothing between them.',
            \is_bool($this->default) => 'it is on or off.',
            default => 'it is settled before the sound begins.',
        };
    }

    /** @return list<string> what may be chosen, where it is one of several */
    public function options(): array
    {
        return null === $this->choice ? [] : array_map(static fn (\BackedEnum $c): string => (string) $c->value, $this->choice::cases());
    }

    /** The nearest value that it can have, of one that is a number. */
    public function nearest(float $value): int|float
    {
        $value = max($this->least, min($this->most, $value));

        return $this->whole ? (int) round($value) : $value;
    }

    /** A value as it is read, with its unit. */
    public function show(mixed $value): string
    {
        return match (true) {
            $value instanceof \BackedEnum => (string) $value->value,
            \is_bool($value) => $value ? 'on' : 'off',
            \is_float($value) || \is_int($value) => trim(\sprintf('%s %s', rtrim(rtrim(number_format($value, max(2, $this->places), '.', ''), '0'), '.'), $this->unit)),
            default => '',
        };
    }
}
