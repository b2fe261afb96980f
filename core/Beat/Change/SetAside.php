<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** Keeps the settings of an insert aside, swaps them with those it has, or forgets them: to compare the two. */
final readonly class SetAside implements Change
{
    private function __construct(private string $node, private string $insert, private string $what)
    {
    }

    public static function from(Fields $fields): self
    {
        $what = $fields->text('what');
        if (!\in_array($what, ['keep', 'swap', 'forget'], true)) {
            throw InvalidChange::field('what', 'must be keep, swap or forget.');
        }

        return new self($fields->id('node'), $fields->id('insert'), $what);
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);

        return $beat->withMixer($beat->mixer->withLine(match ($this->what) {
            'keep' => $line->keepingAside($this->insert),
            'swap' => $line->swapped($this->insert),
            default => $line->forgetting($this->insert),
        }));
    }

    public function label(Beat $beat): string
    {
        $kind = $beat->line($this->node)->insert($this->insert)->kind()->label().' of '.$beat->nameOf($this->node);

        return match ($this->what) {
            'keep' => $kind.': settings kept aside',
            'swap' => $kind.': the other settings',
            default => $kind.': other settings forgotten',
        };
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }
}
