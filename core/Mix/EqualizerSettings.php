<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;

/** Bands in series, each of any shape. */
final readonly class EqualizerSettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::Equalizer;
    public const MOST_BANDS = 8;

    /** @param list<EqBand> $bands */
    public function __construct(public string $id, public array $bands, public bool $on = true, public float $mix = 100.0)
    {
        if (\count($bands) > self::MOST_BANDS) {
            throw new \InvalidArgumentException(\sprintf('An equalizer has at most %d bands.', self::MOST_BANDS));
        }
    }

    /** Four bands, all off. */
    public static function fresh(string $id): self
    {
        return new self($id, EqBand::defaults());
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Equalizer', true),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function acts(): bool
    {
        return $this->on && [] !== array_filter($this->bands, static fn (EqBand $band): bool => $band->isActive());
    }

    public function insert(Timing $timing): Insert
    {
        return Equalizer::of($this->bands, $timing->sampleRate);
    }

    /** @return array<string, EqBand> */
    public function inner(): array
    {
        $bands = [];
        foreach ($this->bands as $i => $band) {
            $bands['bands/'.($i + 1)] = $band;
        }

        return $bands;
    }

    public function withInner(string $path, Settable $inner): static
    {
        $bands = $this->bands;
        $at = (int) substr($path, \strlen('bands/')) - 1;
        if (!isset($bands[$at]) || !$inner instanceof EqBand) {
            throw new \OutOfBoundsException('No band: '.$path);
        }
        $bands[$at] = $inner;

        return $this->with(['bands' => array_values($bands)]);
    }

    public function toArray(): array
    {
        return ['kind' => self::KIND->value, 'id' => $this->id, 'on' => $this->on, 'mix' => $this->mix, 'bands' => array_map(static fn (EqBand $b): array => $b->toArray(), $this->bands)];
    }
}
