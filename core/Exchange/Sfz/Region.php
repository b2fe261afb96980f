<?php

namespace Pestle\Core\Exchange\Sfz;

/** Opcodes of one region, read as what they are; what was read is known, so that the rest can be told and kept. */
final class Region
{
    private const NOTES = ['c' => 0, 'd' => 2, 'e' => 4, 'f' => 5, 'g' => 7, 'a' => 9, 'b' => 11];
    /** Names of version 2 and of players for opcodes of version 1. */
    private const ALSO = ['pitch' => 'tune', 'loopmode' => 'loop_mode', 'loopstart' => 'loop_start', 'loopend' => 'loop_end', 'offby' => 'off_by', 'gain' => 'volume', 'filtype' => 'fil_type', 'eg_release' => 'ampeg_release'];

    /** @var array<string, true> */
    private array $read = [];
    /** @var array<string, string> */
    private array $opcodes = [];

    /** @param array<string, string> $opcodes */
    public function __construct(array $opcodes, private readonly int $shift)
    {
        foreach ($opcodes as $name => $value) {
            $this->opcodes[self::ALSO[$name] ?? $name] = $value;
        }
    }

    public function has(string $name): bool
    {
        return isset($this->opcodes[$name]);
    }

    public function text(string $name, string $else = ''): string
    {
        $this->read[$name] = true;

        return $this->opcodes[$name] ?? $else;
    }

    public function number(string $name, float $else = 0.0): float
    {
        $value = $this->text($name);

        return is_numeric($value) && is_finite((float) $value) ? (float) $value : $else;
    }

    public function whole(string $name, int $else = 0): int
    {
        return (int) round(max(-1e15, min(1e15, $this->number($name, (float) $else))));
    }

    public function with(string $name, string $value): self
    {
        return new self([...$this->opcodes, $name => $value], $this->shift);
    }

    public static function isKey(string $value): bool
    {
        return is_numeric($value) || 1 === preg_match('/^([a-g])(#|b|♯|♭)?(-?\d)$/iu', $value);
    }

    /** A key by number or name ("c4" is 60, "f#3", "eb2"), with the offset of the whole file. */
    public function key(string $name, ?int $else = null): ?int
    {
        $value = strtolower($this->text($name));
        if (is_numeric($value)) {
            return (int) $value < 0 ? -1 : min(127, (int) $value + $this->shift);
        }
        if (!preg_match('/^([a-g])(#|b|♯|♭)?(-?\d)$/u', $value, $m)) {
            return $else;
        }
        $sign = ['#' => 1, '♯' => 1, 'b' => -1, '♭' => -1][$m[2]] ?? 0;

        return max(0, min(127, self::NOTES[$m[1]] + $sign + 12 * ((int) $m[3] + 1) + $this->shift));
    }

    /** @return array<string, string> opcodes that nobody asked for */
    public function rest(): array
    {
        return array_diff_key($this->opcodes, $this->read);
    }

    /** Opcodes that differ between regions of one pad or instrument, of those given. */
    public function sameAs(self $other, string $pattern): bool
    {
        $of = static fn (self $r): array => array_filter($r->opcodes, static fn (string $name): bool => 1 === preg_match($pattern, $name), \ARRAY_FILTER_USE_KEY);

        return $of($this) == $of($other);
    }
}
