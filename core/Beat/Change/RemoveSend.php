<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;

/** Sends a line to a return no more. */
final readonly class RemoveSend implements Change
{
    private function __construct(private string $node, private string $to)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'), $fields->id('to'));
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->channel($this->node);

        return $beat->withMixer($beat->mixer->with($line->with(['sends' => array_diff_key($line->sends, [$this->to => true])])));
    }

    public function label(Beat $beat): string
    {
        return $beat->channel($this->node)->name.' no more to '.$beat->channel($this->to)->name;
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/sends/'.$this->to];
    }
}
