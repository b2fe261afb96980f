<?php

namespace Pestle\Core\Exchange\Sfz;

/**
 * Where everything stands that is not played here: controllers, bend, channel, program and key switches. A region that is
 * silent so is left out, what a controller adds to an opcode is added once and for all; both are told.
 * Source: MIDI Manufacturers Association, "Recommended practice" RP-018 for where controllers stand that nobody moved.
 */
final readonly class Standing
{
    private const USUAL = [7 => 100.0, 10 => 64.0, 11 => 127.0];
    /** What answers only some of them, and where it stands: first channel, no bend, first program. */
    private const RANGES = ['chan' => [1.0, 'channels'], 'bend' => [0.0, 'positions of the bend wheel'], 'prog' => [1.0, 'programs'], 'chanaft' => [0.0, 'pressures'], 'polyaft' => [0.0, 'pressures']];

    /**
     * @param array<string, string> $control opcodes of the headers <control>
     * @param string|null           $switch  the key switch that is on
     */
    private function __construct(private array $control, private ?string $switch)
    {
    }

    /**
     * @param array<string, string>       $control
     * @param list<array<string, string>> $regions
     */
    public static function of(array $control, array $regions): self
    {
        $switch = $control['sw_default'] ?? null;
        $switches = [];
        foreach ($regions as $opcodes) {
            $switch ??= $opcodes['sw_default'] ?? null;
            $switches = [...$switches, ...isset($opcodes['sw_last']) ? [$opcodes['sw_last']] : []];
        }

        // Where none is on at first, the first that is named is.
        return new self($control, $switch ?? $switches[0] ?? null);
    }

    public function controller(int $number): float
    {
        $set = $this->control['set_cc'.$number] ?? null;

        return is_numeric($set) ? (float) $set : self::USUAL[$number] ?? 0.0;
    }

    /**
     * @param array<string, string> $opcodes
     *
     * @return string|null why a region is silent; null when it sounds
     */
    public function silences(array $opcodes): ?string
    {
        if (isset($opcodes['sw_last']) && $opcodes['sw_last'] !== $this->switch) {
            return 'sounds behind key switches are left out, but for those that are on at first';
        }
        foreach ($opcodes as $name => $value) {
            if (preg_match('/^on_(?:lo|hi)cc\d+$/', $name)) {
                return 'sounds that controllers set off are left out';
            }
            if (preg_match('/^(lo|hi)cc(\d+)$/', $name, $m) && self::isOutside($m[1], (float) $value, $this->controller((int) $m[2]))) {
                return 'sounds for other positions of controllers are left out';
            }
            if (preg_match('/^(lo|hi)([a-z]+)$/', $name, $m) && isset(self::RANGES[$m[2]]) && is_numeric($value) && self::isOutside($m[1], (float) $value, self::RANGES[$m[2]][0])) {
                return \sprintf('sounds for other %s are left out', self::RANGES[$m[2]][1]);
            }
        }

        return null;
    }

    private static function isOutside(string $end, float $bound, float $stands): bool
    {
        return 'lo' === $end ? $stands < $bound : $stands > $bound;
    }

    /**
     * Opcodes with what controllers add to them where they stand.
     *
     * @param array<string, string>  $opcodes
     * @param \Closure(string): void $tell
     *
     * @return array<string, string>
     */
    public function settled(array $opcodes, \Closure $tell): array
    {
        foreach ($opcodes as $name => $value) {
            if (preg_match('/^(.+?)_?(?:on)?cc(\d+)$/', $name, $m) && !preg_match('/^(?:on_)?(?:lo|hi)$|^(?:set|label|xf(?:in|out)_(?:lo|hi)|sustain|sostenuto).*$/', $m[1])) {
                unset($opcodes[$name]);
                $added = is_numeric($value) ? (float) $value * $this->controller((int) $m[2]) / 127.0 : 0.0;
                if (0.0 !== $added) {
                    $opcodes[$m[1]] = (string) ((is_numeric($opcodes[$m[1]] ?? null) ? (float) $opcodes[$m[1]] : 0.0) + $added);
                    $tell(\sprintf('%s moves %s: it is set to where that controller stands', $name, $m[1]));
                } else {
                    $tell(\sprintf('%s is left out: no controller moves %s here', $name, $m[1]));
                }
            }
        }

        return $opcodes;
    }
}
