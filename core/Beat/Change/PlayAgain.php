<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Track;

/** A part that was fixed as sound plays again; what lay there for it goes, and with it tracks that are left empty. */
final readonly class PlayAgain implements Change
{
    private function __construct(private string $entry, private string $part)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('entry'), $fields->id('part'));
    }

    public function apply(Beat $beat): Beat
    {
        $entry = $beat->entry($this->entry);
        if (!\in_array($this->part, $entry->fixed, true)) {
            throw new InvalidChange(\sprintf('%s plays there: it is not fixed as sound.', $beat->part($this->part)->name));
        }
        $own = $entry->id.'/'.$this->part;
        $clips = array_filter($beat->clips, static fn (Clip $c): bool => $c->fixed !== $own);
        $left = array_diff(array_column($beat->clips, 'track'), array_column($clips, 'track'));

        return $beat->withEntry($entry->with(['fixed' => array_values(array_diff($entry->fixed, [$this->part]))]))
            ->with(['clips' => $clips, 'tracks' => array_filter($beat->tracks, static fn (Track $t): bool => !\in_array($t->id, $left, true))])
            ->withoutUnusedChannels();
    }

    public function label(Beat $beat): string
    {
        return \sprintf('%s in %s plays again', $beat->part($this->part)->name, $beat->section($beat->entry($this->entry)->section)->name);
    }

    public function touches(): array
    {
        return ['song/'.$this->entry, 'clip', 'track', 'mixer'];
    }
}
