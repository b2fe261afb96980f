<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Mix\GateSettings;

/** The noise of what was recorded from a box is closed out between its notes: a gate that opens a little above it, before what the line has. */
final readonly class GateNoise implements Change
{
    private const ABOVE_DB = 5.0;
    private const LEAST_DB = -80.0;

    private function __construct(private string $node, private float $noiseDb)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'), $fields->number('noiseDb', -120.0, 0.0));
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);
        $gate = new GateSettings('new', thresholdDb: max(self::LEAST_DB, min(0.0, round(2.0 * ($this->noiseDb + self::ABOVE_DB)) / 2.0)), hysteresisDb: 3.0, rangeDb: 90.0);
        $gated = $line->followedBy($gate);
        $inserts = $gated->inserts;

        return $beat->withMixer($beat->mixer->withLine($gated->with(['inserts' => [array_pop($inserts), ...$inserts]])));
    }

    public function label(Beat $beat): string
    {
        return \sprintf('Noise of %s gated', $beat->nameOf($this->node));
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }
}
