<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Song\Clip;

/** Copies a clip behind itself: so often that it goes on until a tick, the last one cropped; or once, at a place of its own. */
final readonly class RepeatClip implements Change
{
    /**
     * @param int|null $every ticks from one to the next; null for as long as it is
     * @param int|null $until tick at which it ends; null for a single copy
     */
    private function __construct(private string $clip, private ?int $every, private ?int $until)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('clip'), $fields->has('every') ? max(1, SongCodec::tick($fields, 'every')) : null, $fields->has('until') ? SongCodec::tick($fields, 'until') : null);
    }

    public function apply(Beat $beat): Beat
    {
        $clip = $beat->clip($this->clip);
        $time = Timeline::song($beat);
        $every = $this->every ?? max(1, (int) round($clip->ticks($time)));
        $until = $this->until ?? $clip->at + $every + 1;
        if ($until <= $clip->at + $every) {
            throw InvalidChange::field('until', 'must lie behind the end of the clip.');
        }
        if (\count($beat->clips) + ($until - $clip->at) / $every > Clip::MOST) {
            throw new InvalidChange(\sprintf('That would be more than %d clips: repeat it less often.', Clip::MOST));
        }
        for ($at = $clip->at + $every; $at < $until; $at += $every) {
            $copy = $clip->with(['id' => $beat->nextClipId(), 'at' => $at, 'fixed' => '']);
            $rest = null === $this->until ? \PHP_INT_MAX : $until - $at;
            $beat = $beat->withClips($copy->ticks($time) > $rest + 1 ? $copy->split($until, '', $time)[0] ?? $copy : $copy);
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        return (null === $this->until ? 'Copy of ' : 'Repeat ').$beat->clip($this->clip)->name;
    }

    public function touches(): array
    {
        return ['clip'];
    }
}
