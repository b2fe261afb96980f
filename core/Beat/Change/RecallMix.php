<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Song\Movement;

/** The mix becomes as one that was kept. */
final readonly class RecallMix implements Change
{
    private function __construct(private string $id)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('id'));
    }

    public function apply(Beat $beat): Beat
    {
        $kept = $beat->snapshot($this->id);
        $owners = [...array_keys($beat->sections), ...array_keys($beat->patterns)];
        // Sections and patterns that are gone take what moved in them along.
        $moving = $kept->moving($beat->movements)->only(static fn (Movement $m): bool => '' === $m->of || \in_array($m->of, $owners, true));

        return $beat->with(['movements' => $moving])->withMixer($kept->onto($beat->mixer));
    }

    public function label(Beat $beat): string
    {
        return 'Mix as in '.$beat->snapshot($this->id)->name;
    }

    public function touches(): array
    {
        return ['mixer'];
    }
}
