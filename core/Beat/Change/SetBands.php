<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\EqualizerSettings;

/** How many bands an equalizer has: more come behind the last, fewer take the last away, and what moved them. */
final readonly class SetBands implements Change
{
    private function __construct(private string $node, private string $insert, private int $count)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'), $fields->id('insert'), $fields->whole('count', 1, EqualizerSettings::MOST_BANDS));
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);
        $insert = $line->insert($this->insert);
        if (!$insert instanceof EqualizerSettings) {
            throw new InvalidChange('Only an equalizer has bands.');
        }
        $bands = \array_slice(array_pad($insert->bands, $this->count, new EqBand(EqShape::Peak, 2500.0, 0.0, 1.0)), 0, $this->count);

        return $beat->withMixer($beat->mixer->withLine($line->withInsert($insert->with(['bands' => $bands]))));
    }

    public function label(Beat $beat): string
    {
        return 'Bands of the EQ of '.$beat->nameOf($this->node);
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }
}
