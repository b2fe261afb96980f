<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Timeline;

/** Cuts a clip in two where the song is at a tick; both together sound as it did. */
final readonly class SplitClip implements Change
{
    private function __construct(private string $clip, private string $id, private int $at)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('clip'), $fields->id('id'), SongCodec::tick($fields, 'at'));
    }

    public function apply(Beat $beat): Beat
    {
        if (isset($beat->clips[$this->id])) {
            throw new InvalidChange('A clip with this id is in the song already.');
        }
        $clip = $beat->clip($this->clip);
        $parts = $clip->split($this->at, $this->id, Timeline::song($beat)) ?? throw new InvalidChange(\sprintf('%s does not sound there: put the playhead inside it.', $clip->name));

        return $beat->withClips(...$parts);
    }

    public function label(Beat $beat): string
    {
        return 'Split '.$beat->clip($this->clip)->name;
    }

    public function touches(): array
    {
        return ['clip/'.$this->clip, 'clip/'.$this->id];
    }
}
