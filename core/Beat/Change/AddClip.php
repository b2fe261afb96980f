<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Clip;

/** Places a stretch of a sample on a track of the song; on one that is not there yet it makes that first. A take is heard in place of what lies there. */
final readonly class AddClip implements Change
{
    private function __construct(private Clip $clip, private string $trackName, private bool $take)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(SongCodec::clip($fields), $fields->has('trackName') ? $fields->text('trackName') : '', $fields->has('take') && $fields->flag('take'));
    }

    public function apply(Beat $beat): Beat
    {
        if (isset($beat->clips[$this->clip->id])) {
            throw new InvalidChange('A clip with this id is in the song already.');
        }
        if (!isset($beat->tracks[$this->clip->track])) {
            $beat = AddTrack::to($beat, $this->clip->track, '' === $this->trackName ? $this->clip->name : $this->trackName);
        }

        $beat = $beat->withClips($this->clip);

        return $this->take ? ChooseTake::to($beat, $this->clip->id) : $beat;
    }

    public function label(Beat $beat): string
    {
        return $this->clip->name.($this->take ? ' recorded' : ' placed');
    }

    public function touches(): array
    {
        return ['clip/'.$this->clip->id, 'track/'.$this->clip->track, 'mixer/new'];
    }
}
