<?php

namespace Pestle\Core\Song;

use Pestle\Core\Sample\Attacks;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\FadeShape;
use Pestle\Core\Sample\Fit;
use Pestle\Core\Sample\Material;
use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;
use Pestle\Core\Theory\Tempo;
use Pestle\Core\Theory\TempoMap;
use Pestle\Core\Theory\Ticks;

/**
 * A stretch of a sample on a track of the song: where it begins, what of it is heard, and how. What is cut off at its ends
 * is only hidden.
 */
final readonly class Clip implements Settable
{
    use Settings;

    public const MOST = 1000;
    public const LONGEST_FADE_MS = 60000.0;
    public const LONGEST_ROOM = 12.0;
    /** Frames beside a stretch of a recording that are worked out with it. */
    private const BEYOND = 8192;
    /** What a stretch is worked out for. */
    private const SLOWEST = 0.25;
    private const FASTEST = 4.0;
    /** Where the tempo moves it is led there by places so far apart at least. */
    private const WARPED_TICKS = 240.0;

    /**
     * @param string   $sample      hash of its source
     * @param int      $rate        Hz of the sample
     * @param int      $at          tick of the song at which it begins
     * @param int      $from        first frame of the sample, with its edits in this beat, that is heard
     * @param int      $to          the one after the last
     * @param float    $bpm         tempo of the recording, which then keeps to that of the beat; 0 where it goes as it goes
     * @param Material $material    what it is stretched as
     * @param float    $roomSeconds in which the room around it dies away; 0 for none
     * @param bool     $roomBefore  whether the room is heard before it, backwards, in place of after it
     * @param string   $fixed       entry of the song and part that it sounds for ("e3/part-2"); empty for neither
     */
    public function __construct(
        public string $id,
        public string $track,
        public string $name,
        public string $sample,
        public int $rate,
        public int $at,
        public int $from,
        public int $to,
        public float $levelDb = 0.0,
        public float $fadeInMs = 0.0,
        public FadeShape $fadeInShape = FadeShape::Straight,
        public float $fadeOutMs = 0.0,
        public FadeShape $fadeOutShape = FadeShape::Straight,
        public bool $reversed = false,
        public int $pitchCents = 0,
        public float $bpm = 0.0,
        public Material $material = Material::Tones,
        public bool $muted = false,
        public string $fixed = '',
        public float $roomSeconds = 0.0,
        public float $roomMix = 60.0,
        public bool $roomBefore = false,
    ) {
        if ($from < 0 || $to <= $from) {
            throw new \InvalidArgumentException(\sprintf('%s: its end must lie after its start.', $name));
        }
        if ($at < 0) {
            throw new \InvalidArgumentException(\sprintf('%s: nothing begins before the song does.', $name));
        }
    }

    public static function parameters(): array
    {
        $why = 'a line of the mixer moves what its track plays.';

        return [
            'levelDb' => Parameter::number('Level', 'dB', -60.0, 12.0, 0.0, 0.5)->settled($why),
            'fadeInMs' => Parameter::number('Fade in', 'ms', 0.0, self::LONGEST_FADE_MS, 0.0, 10.0, 0)->bent(3.0),
            'fadeInShape' => Parameter::choice('Shape of the fade in', FadeShape::Straight),
            'fadeOutMs' => Parameter::number('Fade out', 'ms', 0.0, self::LONGEST_FADE_MS, 0.0, 10.0, 0)->bent(3.0),
            'fadeOutShape' => Parameter::choice('Shape of the fade out', FadeShape::Straight),
            'reversed' => Parameter::onOff('Backwards'),
            'pitchCents' => Parameter::whole('Pitch', 'cents', -1200, 1200, 0),
            'bpm' => Parameter::number('Tempo of the recording', 'BPM', 0.0, Tempo::MAX, 0.0, 0.1, 2),
            'material' => Parameter::choice('Stretched as', Material::Tones),
            'muted' => Parameter::onOff('Mute'),
            'roomSeconds' => Parameter::number('Room', 's', 0.0, self::LONGEST_ROOM, 0.0, 0.1, 1)->bent(2.0)->settled($why),
            'roomMix' => Parameter::number('Of it', '%', 0.0, 100.0, 60.0, 1.0, 0)->settled($why),
            'roomBefore' => Parameter::onOff('Room before it'),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{id: string, track: string, name: string, sample: string, rate: int, at: int, from: int, to: int, levelDb: float, fadeInMs: float, fadeInShape: FadeShape, fadeOutMs: float, fadeOutShape: FadeShape, reversed: bool, pitchCents: int, bpm: float, material: Material, muted: bool, fixed: string, roomSeconds: float, roomMix: float, roomBefore: bool} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** How much longer it is heard than it was recorded; where the tempo moves, on the average. */
    public function stretch(TempoMap $time): float
    {
        if (0.0 === $this->bpm) {
            return 1.0;
        }
        $ticks = $this->written($this->to - $this->from);
        $ratio = $time->isSteady() ? $this->bpm / $time->bpm(0.0) : ($time->seconds($this->at + $ticks) - $time->seconds($this->at)) * $this->rate / ($this->to - $this->from);

        return max(self::SLOWEST, min(self::FASTEST, $ratio));
    }

    /** Ticks that so many frames of the recording are by its own tempo. */
    private function written(int $frames): float
    {
        return $frames / $this->rate * $this->bpm / 60.0 * Ticks::PER_QUARTER;
    }

    /** How long it is heard, in ticks. */
    public function ticks(TempoMap $time): float
    {
        return $time->after($this->at, ($this->to - $this->from) * $this->stretch($time) / $this->rate);
    }

    /** When it is heard first: with a room before it that is sooner than where it lies. */
    public function begins(TempoMap $time): float
    {
        return $this->roomBefore ? max(0.0, $this->at + $time->after($this->at, -$this->tail() / $this->rate)) : (float) $this->at;
    }

    /** Frames that a room around it rings on. */
    private function tail(): int
    {
        return $this->roomMix > 0.0 ? (int) round($this->roomSeconds * $this->rate) : 0;
    }

    public function end(TempoMap $time): float
    {
        return $this->at + $this->ticks($time);
    }

    /**
     * What is read for it: the edits of its sample in the beat with its own, and which frames of that. An end that fades is
     * cut there, so that nothing is heard beyond it; one that does not goes on into a neighbour that goes on from there.
     *
     * @param Edits    $edits  of its sample in the beat
     * @param int      $frames how long its sample is with them
     * @param TempoMap $time   of the song
     *
     * @return array{Edits, int, int, int} edits, first frame, the one after the last, and how many of them come before where it lies
     */
    public function heard(Edits $edits, int $frames, TempoMap $time): array
    {
        $stretch = $this->stretch($time);
        $tail = $this->tail();
        $most = $tail > 0 ? 0 : (0 !== $this->pitchCents || 1.0 !== $stretch ? self::BEYOND : $frames);
        $fades = $this->reversed ? [$this->fadeOutMs, $this->fadeInMs] : [$this->fadeInMs, $this->fadeOutMs];
        $before = $fades[0] > 0.0 ? 0 : min($most, $this->from);
        $after = $fades[1] > 0.0 ? 0 : max(0, min($most, $frames - $this->to));
        $list = $edits->list;
        if ($before < $this->from || $this->to + $after < $frames) {
            $list[] = new Edit(EditKind::Keep, $this->from - $before, $this->to + $after);
        }
        $early = $this->reversed ? $after : $before;
        $warped = $this->warped($time, $early, $before + $this->to - $this->from + $after);
        array_push($list, ...$this->turned(null === $warped ? $stretch : 1.0), ...null === $warped ? [] : [$warped]);
        [$from, $to] = null === $warped
            ? [(int) round($early * $stretch), (int) round(($early + $this->to - $this->from) * $stretch)]
            : array_map(fn (int $frame): int => (int) round($warped->forward($frame, $before + $this->to - $this->from + $after)), [$early, $early + $this->to - $this->from]);
        [$in, $out] = $this->fades($to - $from);

        array_push($list, ...self::fade(EditKind::FadeIn, $from, $from + $in, $this->fadeInShape), ...self::fade(EditKind::FadeOut, $to - $out, $to, $this->fadeOutShape));
        if (0 === $tail) {
            return [new Edits($list), $from, $to, 0];
        }
        $room = new Edit(EditKind::Room, null, null, ['seconds' => $this->roomSeconds, 'mix' => $this->roomMix, 'tail' => $tail]);
        $back = new Edit(EditKind::Reverse, null, null);

        return [new Edits([...$list, ...$this->roomBefore ? [$back, $room, $back] : [$room]]), 0, $to + $tail, $this->roomBefore ? $tail : 0];
    }

    /** Beat by beat to where the tempo moves; null where it stands while it is heard, or is not kept to. */
    private function warped(TempoMap $time, int $early, int $frames): ?Edit
    {
        $ticks = 0.0 === $this->bpm ? 0.0 : $this->written($this->to - $this->from);
        if ($time->isSteady() || $ticks < 1.0 || $time->stands($this->at, $this->at + $ticks)) {
            return null;
        }
        $places = [];
        for ($steps = (int) max(1.0, ceil($ticks / max(self::WARPED_TICKS, $ticks / (Fit::MOST_PLACES - 1)))), $k = 0; $k <= $steps; ++$k) {
            $frame = (int) round($k * ($this->to - $this->from) / $steps);
            array_push($places, $early + $frame, number_format($time->seconds($this->at + $this->written($frame)) - $time->seconds($this->at), 7, '.', ''));
        }

        // In beats of a second, so that a place is said in seconds.
        return new Edit(EditKind::InTime, null, null, ['places' => implode(' ', $places), 'bpm' => 60.0, 'follow' => 0, 'frames' => $frames, 'rate' => $this->rate, 'material' => $this->material->value, 'attacks' => Attacks::NEWEST]);
    }

    /** @return list<Edit> */
    private function turned(float $stretch): array
    {
        $material = ['material' => $this->material->value, 'attacks' => Attacks::NEWEST];

        return [
            ...($this->reversed ? [new Edit(EditKind::Reverse, null, null)] : []),
            ...(0 !== $this->pitchCents ? [new Edit(EditKind::Pitch, null, null, ['cents' => (float) $this->pitchCents, ...$material])] : []),
            ...(1.0 !== $stretch ? [new Edit(EditKind::Stretch, null, null, ['percent' => 100.0 * $stretch, ...$material])] : []),
        ];
    }

    /**
     * Frames over which it fades; where both together are longer than it is, each gets its share.
     *
     * @param int $length frames that it is heard
     *
     * @return array{int, int}
     */
    public function fades(int $length): array
    {
        $both = max($this->fadeInMs + $this->fadeOutMs, 1000.0 * $length / $this->rate);
        $frames = static fn (float $ms): int => (int) floor($length * $ms / $both);

        return [$frames($this->fadeInMs), $frames($this->fadeOutMs)];
    }

    /** @return list<Edit> none where it takes no time */
    private static function fade(EditKind $kind, int $from, int $to, FadeShape $shape): array
    {
        return $to > $from ? [new Edit($kind, $from, $to, ['shape' => $shape->value])] : [];
    }

    /**
     * In two where the song is at a tick.
     *
     * @return array{self, self}|null null where it does not sound on both sides
     */
    public function split(int $at, string $id, TempoMap $time): ?array
    {
        // On the grid on which both begin, so that the second begins where the first ends.
        $frames = 0.0 === $this->bpm || $time->isSteady()
            ? (int) round(($time->frames($at, $this->rate) - $time->frames($this->at, $this->rate)) / $this->stretch($time))
            : (int) round(($at - $this->at) / $this->written(1));
        if ($frames <= 0 || $frames >= $this->to - $this->from) {
            return null;
        }
        $cut = $this->reversed ? $this->to - $frames : $this->from + $frames;
        [$first, $second] = $this->reversed ? [['from' => $cut], ['to' => $cut]] : [['to' => $cut], ['from' => $cut]];

        return [$this->with(['fadeOutMs' => 0.0, ...$first]), $this->with(['id' => $id, 'at' => $at, 'fadeInMs' => 0.0, ...$second])];
    }

    /** Whether another goes on where it ends, of the same recording and heard as it is. */
    public function goesOnIn(self $next, TempoMap $time): bool
    {
        $same = ['id' => '', 'at' => 0, 'from' => 0, 'to' => 1, 'fadeInMs' => 0.0, 'fadeOutMs' => 0.0, 'fadeInShape' => FadeShape::Straight, 'fadeOutShape' => FadeShape::Straight, 'name' => ''];

        return $this->with($same) == $next->with($same)
            && ($this->reversed ? $next->to === $this->from : $next->from === $this->to)
            && abs($this->end($time) - $next->at) < 1.0;
    }

    /** One that sounds as both did. */
    public function joined(self $next): self
    {
        return $this->with(['from' => min($this->from, $next->from), 'to' => max($this->to, $next->to), 'fadeOutMs' => $next->fadeOutMs, 'fadeOutShape' => $next->fadeOutShape]);
    }

    /** @return array<string, mixed> what differs from a clip that is left as it is left out */
    public function toArray(): array
    {
        $plain = ['id' => $this->id, 'track' => $this->track, 'name' => $this->name, 'sample' => $this->sample, 'rate' => $this->rate, 'at' => $this->at, 'from' => $this->from, 'to' => $this->to];
        if ('' !== $this->fixed) {
            $plain['fixed'] = $this->fixed;
        }
        $parameters = self::parameters();
        foreach ($this->settings() as $field => $value) {
            if ($value !== $parameters[$field]->default) {
                $plain[$field] = $value;
            }
        }

        return $plain;
    }
}
