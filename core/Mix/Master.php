<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** The last line: inserts for everything, gain (dB), and a limiter whose ceiling is a true peak (dBTP). */
final readonly class Master implements Settable
{
    use Chain;
    use Settings;

    public const ID = 'master';

    /**
     * @param list<InsertSettings>          $inserts in order
     * @param array<string, InsertSettings> $aside   by insert: other settings of it, to be compared
     */
    public function __construct(public float $gainDb = 0.0, public float $ceilingDb = -1.0, public FaderPlace $fader = FaderPlace::After, public array $inserts = [], public array $aside = [])
    {
        if (\count($inserts) > Node::MOST_INSERTS) {
            throw new \InvalidArgumentException(\sprintf('The master has at most %d inserts.', Node::MOST_INSERTS));
        }
    }

    /** With a compressor on everything, at rest. */
    public static function fresh(): self
    {
        return new self(inserts: [new CompressorSettings('i1', false, -12.0, 1.5, 30.0, 200.0)]);
    }

    public static function parameters(): array
    {
        return [
            'gainDb' => Parameter::number('Gain', 'dB', -24.0, 24.0, 0.0, 0.5, moves: true),
            'ceilingDb' => Parameter::number('Ceiling', 'dBTP', -12.0, 0.0, -1.0, 0.1),
            'fader' => Parameter::choice('Place of the gain', FaderPlace::After),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{gainDb: float, ceilingDb: float, fader: FaderPlace, inserts: list<InsertSettings>, aside: array<string, InsertSettings>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function inner(): array
    {
        return $this->insideInserts();
    }

    public function withInner(string $path, Settable $inner): static
    {
        return $this->withInsideInsert($path, $inner);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        /** @var array<string, mixed> $plain */
        $plain = [...get_object_vars($this), 'fader' => $this->fader->value, 'inserts' => array_map(static fn (InsertSettings $i): array => $i->toArray(), $this->inserts), 'aside' => array_map(static fn (InsertSettings $i): array => $i->toArray(), array_values($this->aside))];

        return $plain;
    }
}
