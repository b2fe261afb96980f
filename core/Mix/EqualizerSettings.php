<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;
use Pestle\Core\Theory\Tempo;

/** Bands in series, each of any shape. */
final readonly class EqualizerSettings implements InsertSettings
{
    use Settings;

    public const KIND = InsertKind::Equalizer;
    public const MOST_BANDS = 8;

    /** @param list<EqBand> $bands */
    public function __construct(public string $id, public array $bands, public bool $on = true)
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
        return ['on' => Parameter::onOff('Equalizer', true)];
    }

    public function id(): string
    {
        return $this->id;
    }

    public function kind(): InsertKind
    {
        return self::KIND;
    }

    public function acts(): bool
    {
        return $this->on && [] !== array_filter($this->bands, static fn (EqBand $band): bool => $band->isActive());
    }

    public function key(): ?string
    {
        return null;
    }

    public function steeredBy(?string $key): static
    {
        return $this;
    }

    public function goesByTime(): bool
    {
        return false;
    }

    public function isLinear(): bool
    {
        return true;
    }

    public function seconds(Tempo $tempo): float
    {
        return self::USUAL_SECONDS;
    }

    public function insert(Timing $timing): Insert
    {
        return Equalizer::of($this->bands, $timing->sampleRate);
    }

    public function with(array $changed): static
    {
        /** @var array{id: string, bands: list<EqBand>, on: bool} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
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
        return ['kind' => self::KIND->value, 'id' => $this->id, 'on' => $this->on, 'bands' => array_map(static fn (EqBand $b): array => $b->toArray(), $this->bands)];
    }
}
