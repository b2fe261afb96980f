<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;

/** Sets which sections follow one another. */
final readonly class SetSong implements Change
{
    /** @param list<string> $sections */
    private function __construct(private array $sections)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->ids('sections', Beat::MAX_SONG));
    }

    public function apply(Beat $beat): Beat
    {
        array_map($beat->section(...), $this->sections);

        return $beat->with(['song' => $this->sections]);
    }

    public function label(Beat $beat): string
    {
        return 'Order of sections';
    }

    public function touches(): array
    {
        return ['song'];
    }
}
