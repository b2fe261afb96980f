<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\LiveFields;
use Pestle\Core\Beat\Performed;
use Pestle\Core\Song\LiveSet;

/** What was performed becomes the song, or a stretch of it does. */
final readonly class PerformSong implements Change
{
    private function __construct(private LiveSet $set, private int $from, private int $to)
    {
    }

    public static function from(Fields $fields): self
    {
        $from = $fields->whole('from', 0, LiveFields::MOST_TICKS);

        return new self(LiveFields::read($fields), $from, $fields->whole('to', $from + 1, LiveFields::MOST_TICKS));
    }

    public function apply(Beat $beat): Beat
    {
        return Performed::song($beat, $this->set, $this->from, $this->to);
    }

    public function label(Beat $beat): string
    {
        return 'What was performed is the song';
    }

    public function touches(): array
    {
        return ['song', 'section/new', 'pattern/new', 'clip', 'marker', 'curve'];
    }
}
