<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Mix\InsertSettings;

/** Takes an insert off a line; what moves it goes with it. */
final readonly class RemoveInsert implements Change
{
    private function __construct(private string $node, private string $insert)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'), $fields->id('insert'));
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);
        $line->insert($this->insert);

        return $beat->withMixer($beat->mixer->withLine($line->forgetting($this->insert)->with(['inserts' => array_values(array_filter($line->inserts, fn (InsertSettings $i): bool => $i->id() !== $this->insert))])));
    }

    public function label(Beat $beat): string
    {
        return $beat->line($this->node)->insert($this->insert)->kind()->label().' off '.$beat->nameOf($this->node);
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }
}
