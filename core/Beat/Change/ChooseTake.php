<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Song\Clip;

/** Of several takes on a track one is heard, over all of it or a stretch; the others are silent there, and kept. */
final readonly class ChooseTake implements Change
{
    private function __construct(private string $clip, private ?int $from, private ?int $to)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('clip'), $fields->has('from') ? SongCodec::tick($fields, 'from') : null, $fields->has('to') ? SongCodec::tick($fields, 'to') : null);
    }

    public function apply(Beat $beat): Beat
    {
        return self::to($beat, $this->clip, $this->from, $this->to);
    }

    /** @throws InvalidChange where it is not heard in the stretch */
    public static function to(Beat $beat, string $id, ?int $from = null, ?int $to = null): Beat
    {
        $take = $beat->clip($id);
        $from = max($take->at, $from ?? $take->at);
        $to = min((int) ceil($take->end(Timeline::song($beat))), $to ?? \PHP_INT_MAX);
        if ($to <= $from) {
            throw new InvalidChange(\sprintf('%s does not reach into this range.', $take->name));
        }
        foreach ($beat->clips as $other) {
            if ($other->track === $take->track && ($other->id === $id || !$other->muted)) {
                $beat = self::inside($beat, $other, $from, $to, $other->id !== $id);
            }
        }

        return $beat;
    }

    /** What of a clip lies in a stretch is muted or not, the rest stays as it is. */
    private static function inside(Beat $beat, Clip $clip, int $from, int $to, bool $muted): Beat
    {
        $time = Timeline::song($beat);
        if ($clip->at >= $to || $clip->end($time) <= $from) {
            return $beat;
        }
        foreach ([$to, $from] as $at) {
            $parts = $clip->split($at, $beat->nextClipId(), $time);
            if (null !== $parts) {
                $beat = $beat->withClips(...$parts);
                $clip = $parts[$at === $to ? 0 : 1];
            }
        }

        return $beat->withClips($clip->with(['muted' => $muted]));
    }

    public function label(Beat $beat): string
    {
        return $beat->clip($this->clip)->name.' chosen';
    }

    public function touches(): array
    {
        return ['clip'];
    }
}
