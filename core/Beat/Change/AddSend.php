<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Mix\Send;

/** Sends a line to a return. */
final readonly class AddSend implements Change
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
        return self::between($beat, $this->node, $this->to);
    }

    /** @throws InvalidChange */
    public static function between(Beat $beat, string $node, string $to): Beat
    {
        $line = $beat->channel($node);
        if (NodeKind::Return !== $beat->channel($to)->kind) {
            throw InvalidChange::field('to', 'must be a return of this beat.');
        }

        return $beat->withMixer($beat->mixer->with($line->with(['sends' => array_replace($line->sends, [$to => $line->sends[$to] ?? new Send()])])));
    }

    public function label(Beat $beat): string
    {
        return $beat->channel($this->node)->name.' to '.$beat->channel($this->to)->name;
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/sends/'.$this->to];
    }
}
