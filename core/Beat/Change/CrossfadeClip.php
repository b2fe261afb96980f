<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Sample\FadeShape;
use Pestle\Core\Song\Clip;

/** Lets a clip and those of its track that it overlaps fade into one another for as long as both sound. */
final readonly class CrossfadeClip implements Change
{
    private function __construct(private string $clip)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('clip'));
    }

    public function apply(Beat $beat): Beat
    {
        $one = $beat->clip($this->clip);
        $time = Timeline::song($beat);
        $faded = false;
        foreach ($beat->clips as $other) {
            [$first, $second] = $other->at < $one->at ? [$other, $beat->clip($one->id)] : [$beat->clip($one->id), $other];
            $ticks = $first->end($time) - $second->at;
            // One that lies wholly within another is not crossfaded with it.
            if ($other->id === $one->id || $other->track !== $one->track || $ticks <= 0.0 || $second->end($time) < $first->end($time)) {
                continue;
            }
            $ms = min(Clip::LONGEST_FADE_MS, 1000.0 * ($time->seconds($second->at + $ticks) - $time->seconds($second->at)));
            // Two sounds that are not alike keep their power where each has half of it: faster at first.
            $beat = $beat->withClips($first->with(['fadeOutMs' => $ms, 'fadeOutShape' => FadeShape::FastStart]), $second->with(['fadeInMs' => $ms, 'fadeInShape' => FadeShape::FastStart]));
            $faded = true;
        }

        return $faded ? $beat : throw new InvalidChange(\sprintf('%s overlaps no other clip of its track: move one over the end of the other first.', $one->name));
    }

    public function label(Beat $beat): string
    {
        return 'Crossfade '.$beat->clip($this->clip)->name;
    }

    public function touches(): array
    {
        return ['clip'];
    }
}
