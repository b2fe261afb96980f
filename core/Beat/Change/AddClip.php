<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Clip;

/** Places a stretch of a sample on a track of the song; on one that is not there yet it makes that first. */
final readonly class AddClip implements Change
{
    private function __construct(private Clip $clip, private string $trackName)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(SongCodec::clip($fields), $fields->has('trackName') ? $fields->text('trackName') : '');
    }

    public function apply(Beat $beat): Beat
    {
        if (isset($beat->clips[$this->clip->id])) {
            throw new InvalidChange('A clip with this id is in the song already.');
        }
        if (!isset($beat->tracks[$this->clip->track])) {
            $beat = AddTrack::to($beat, $this->clip->track, '' === $this->trackName ? $this->clip->name : $this->trackName);
        }

        return $beat->withClips($this->clip);
    }

    public function label(Beat $beat): string
    {
        return $this->clip->name.' placed';
    }

    public function touches(): array
    {
        return ['clip/'.$this->clip->id, 'track/'.$this->clip->track, 'mixer/new'];
    }
}
