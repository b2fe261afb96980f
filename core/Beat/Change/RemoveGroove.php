<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Pattern;

/** Takes a groove out of the beat, and off all that is felt by it. */
final readonly class RemoveGroove implements Change
{
    private function __construct(private string $id)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('groove'));
    }

    public function apply(Beat $beat): Beat
    {
        if (!isset($beat->grooves[$this->id])) {
            throw new InvalidChange('This groove is not in the beat any more.');
        }
        $off = fn (Feel $feel): Feel => $feel->groove === $this->id ? $feel->with(['groove' => '']) : $feel;
        $patterns = array_map(static fn (Pattern $p): Pattern => $p->with([
            'feel' => $off($p->feel),
            'lanes' => array_map(static fn (Lane $lane): Lane => null === $lane->feel ? $lane : $lane->with(['feel' => $off($lane->feel)]), $p->lanes),
        ]), $beat->patterns);

        return $beat->with(['patterns' => $patterns, 'grooves' => array_diff_key($beat->grooves, [$this->id => true])]);
    }

    public function label(Beat $beat): string
    {
        return 'Delete the groove '.($beat->grooves[$this->id]->name ?? '');
    }

    public function touches(): array
    {
        return ['groove/'.$this->id, 'pattern'];
    }
}
