<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Song\Clip;

/** Takes a track out of the beat with what lies on it, and its channel where nothing else feeds it. */
final readonly class RemoveTrack implements Change
{
    private function __construct(private string $track)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('track'));
    }

    public function apply(Beat $beat): Beat
    {
        $track = $beat->track($this->track);

        return $beat->with([
            'tracks' => array_diff_key($beat->tracks, [$track->id => true]),
            'clips' => array_filter($beat->clips, static fn (Clip $c): bool => $c->track !== $track->id),
        ])->withoutUnusedChannels();
    }

    public function label(Beat $beat): string
    {
        return 'Delete '.$beat->track($this->track)->name;
    }

    public function touches(): array
    {
        return ['track/'.$this->track, 'clip', 'mixer'];
    }
}
