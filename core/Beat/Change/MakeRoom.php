<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Mix\DuckerSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\InsertSettings;

/** One line makes room for another that it covers: it steps back while that plays, or is softer around a frequency. */
final readonly class MakeRoom implements Change
{
    private const DIP_DB = -4.0;
    private const DIP_Q = 1.2;

    /** @param float|null $hz where it is made softer; null to step back */
    private function __construct(private string $node, private string $for, private ?float $hz)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'), $fields->id('for'), $fields->has('hz') ? $fields->number('hz', 20.0, 20000.0) : null);
    }

    public function apply(Beat $beat): Beat
    {
        $beat->channel($this->for);

        return $beat->withMixer($beat->mixer->withLine($beat->line($this->node)->followedBy($this->insert())));
    }

    private function insert(): InsertSettings
    {
        return null === $this->hz
            ? (new DuckerSettings('i0'))->steeredBy($this->for)
            : new EqualizerSettings('i0', [new EqBand(EqShape::Peak, $this->hz, self::DIP_DB, self::DIP_Q, true)]);
    }

    public function label(Beat $beat): string
    {
        return $beat->nameOf($this->node).' makes room for '.$beat->nameOf($this->for);
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }
}
