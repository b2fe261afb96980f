<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Analysis\OnsetStrength;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Sample\Effect\Held;
use Pestle\Core\Sample\Effect\InRoom;
use Pestle\Core\Sample\Effect\Joined;
use Pestle\Core\Sample\Effect\OneSided;
use Pestle\Core\Sample\Effect\Part;
use Pestle\Core\Sample\Effect\Reversed;
use Pestle\Core\Sample\Effect\Shaped;
use Pestle\Core\Sample\Effect\Stepped;
use Pestle\Core\Signal\Decibels;

/**
 * One thing done to a sound, to a stretch of it or to all. Places are frames of what the edits before it made.
 *
 * @phpstan-type Settings array<string, float|int|string>
 */
final readonly class Edit
{
    /** Over how long a cut, or the edge of a changed stretch, is smoothed; twice that where phases differ. */
    private const JOIN_SECONDS = 0.004;

    /**
     * @param int|null $from     first frame it works on; null for the whole
     * @param int|null $to       the frame after the last
     * @param Settings $settings by kind: gain {db}; normalise {measure: peak|loudness, db}; fades {shape}; pitch {cents, material};
     *                           stretch {percent of the length, material}; in-time {bpm, places, follow: 0|1, frames and rate of the
     *                           source, material}, where places are "frame beat frame beat …", what the beats of the sound are; speed {percent}; converter {bits, rate, filters}; mono {side}; room {seconds, mix, tail: frames it rings on}.
     *                           What can keep attacks has {attacks}, the version of where they are found; without it that is 1
     */
    public function __construct(public EditKind $kind, public ?int $from, public ?int $to, public array $settings = [], public bool $on = true)
    {
    }

    public function apply(AudioSource $source): AudioSource
    {
        $frames = $source->frames();
        [$from, $to] = $this->range($frames);
        if (!$this->on || $to <= $from) {
            return $source;
        }
        $join = (int) ($source->sampleRate() * self::JOIN_SECONDS);
        if (EditKind::Keep === $this->kind) {
            return 0 === $from && $to === $frames ? $source : new Part($source, $from, $to);
        }
        if (EditKind::Cut === $this->kind) {
            $over = intdiv(min($join, 2 * $from, 2 * ($frames - $to)), 2);
            if ($to - $from >= $frames) {
                return $source;
            }

            return new Joined([new Part($source, 0, $from + $over), new Part($source, $to - $over, $frames)], [2 * $over]);
        }
        if (EditKind::Repeat === $this->kind) {
            $over = intdiv(min($join, 2 * ($to - $from), 2 * $from, 2 * ($frames - $to)), 2);

            return new Joined([new Part($source, 0, $to + $over), new Part($source, $from - $over, $frames)], [2 * $over]);
        }
        if (0 === $from && $to === $frames) {
            return $this->changed($source);
        }

        return $this->within($source, $from, $to, $join);
    }

    /** As it is made today: what can keep attacks finds them where they are found today. */
    public function anew(): self
    {
        $keeps = \in_array($this->kind, [EditKind::Pitch, EditKind::Stretch, EditKind::InTime], true);

        return $keeps ? new self($this->kind, $this->from, $this->to, [...$this->settings, 'attacks' => Attacks::NEWEST], $this->on) : $this;
    }

    /** Whether working it out takes long enough to keep the result. */
    public function isHeavy(): bool
    {
        return $this->on && (\in_array($this->kind, [EditKind::Pitch, EditKind::Stretch, EditKind::InTime, EditKind::Normalise], true) || (EditKind::Room === $this->kind && $this->number('mix') > 0.0));
    }

    /** What stands for it while it is worked out: as long, but without what takes its time. Stretching becomes speed, and pitch moves with it. */
    public function lighter(int $frames): self
    {
        if (!$this->isHeavy()) {
            return $this;
        }

        return match ($this->kind) {
            EditKind::Stretch => new self(EditKind::Speed, $this->from, $this->to, ['percent' => 100.0 / $this->ratio()]),
            EditKind::Room => $this->set(['mix' => 0.0]),
            EditKind::InTime => new self(EditKind::Speed, null, null, ['percent' => max(25.0, min(400.0, 100.0 * $frames / max(1, $this->length($frames))))]),
            default => $this->with(false),
        };
    }

    /** Where a frame of what came before is found in the result; what is cut away lands on the edge. */
    public function forward(float $frame, int $frames): float
    {
        [$from, $to] = $this->range($frames);
        if (!$this->on || $to <= $from) {
            return $frame;
        }
        $inside = min(max($frame, (float) $from), (float) $to);

        return match ($this->kind) {
            EditKind::Keep => $inside - $from,
            EditKind::Cut => $frame < $from ? $frame : max((float) $from, $frame - ($to - $from)),
            EditKind::Repeat => $frame < $to ? $frame : $frame + ($to - $from),
            EditKind::Reverse => $frame >= $from && $frame <= $to ? $from + $to - $frame : $frame,
            EditKind::Stretch, EditKind::Speed => $frame + ($this->ratio() - 1.0) * ($inside - $from),
            EditKind::InTime => $this->map($frames)->forward($frame),
            default => $frame,
        };
    }

    /** The way back: where a frame of the result came from. */
    public function back(float $frame, int $frames): float
    {
        [$from, $to] = $this->range($frames);
        if (!$this->on || $to <= $from) {
            return $frame;
        }
        $ratio = $this->ratio();

        return match ($this->kind) {
            EditKind::Keep => $frame + $from,
            EditKind::Cut => $frame < $from ? $frame : $frame + ($to - $from),
            EditKind::Repeat => $frame < $to ? $frame : $frame - ($to - $from),
            EditKind::Reverse => $frame >= $from && $frame <= $to ? $from + $to - $frame : $frame,
            EditKind::Stretch, EditKind::Speed => match (true) {
                $frame < $from => $frame,
                $frame < $from + ($to - $from) * $ratio => $from + ($frame - $from) / $ratio,
                default => $frame - ($ratio - 1.0) * ($to - $from),
            },
            EditKind::InTime => $this->map($frames)->back($frame),
            default => $frame,
        };
    }

    /** How many frames a source of so many has afterwards. */
    public function length(int $frames): int
    {
        [$from, $to] = $this->range($frames);
        if (!$this->on || $to <= $from) {
            return $frames;
        }

        return match ($this->kind) {
            EditKind::Keep => $to - $from,
            EditKind::Repeat => $frames + ($to - $from),
            EditKind::Cut => $to - $from >= $frames ? $frames : $frames - ($to - $from),
            EditKind::Stretch, EditKind::Speed => $frames - ($to - $from) + self::scaled($to - $from, $this->ratio()),
            EditKind::InTime => $this->map($frames)->length(),
            // Within a recording it rings no longer than the stretch is.
            EditKind::Room => $to === $frames ? $frames + (int) $this->number('tail') : $frames,
            default => $frames,
        };
    }

    /** "Gain +3 dB": what it does, with its numbers. */
    public function title(): string
    {
        $number = fn (string $name, int $places = 0): string => rtrim(rtrim(number_format($this->number($name), $places), '0'), '.');

        return match ($this->kind) {
            EditKind::Gain => \sprintf('Gain %+.1f dB', $this->number('db')),
            EditKind::Normalise => \sprintf('Normalise to %.1f %s', $this->number('db'), 'loudness' === $this->word('measure') ? 'LUFS' : 'dBFS'),
            EditKind::FadeIn, EditKind::FadeOut => $this->kind->label().', '.(FadeShape::tryFrom($this->word('shape')) ?? FadeShape::Straight)->label(),
            EditKind::Pitch => \sprintf('Pitch %+.2g semitones', $this->number('cents') / 100.0),
            EditKind::Stretch => 'Stretch to '.$number('percent', 2).' %',
            EditKind::InTime => ($this->follows() ? 'Follows the tempo, ' : 'In time, ').$number('bpm', 1).' BPM',
            EditKind::Speed => 'Speed '.$number('percent', 2).' %',
            EditKind::Converter => \sprintf('Old converter, %d bit, %s kHz%s', $this->number('bits'), round($this->number('rate') / 1000.0, 1), $this->number('filters') > 0.0 ? '' : ', no filters'),
            EditKind::Room => \sprintf('In a room of %.1f s, %d %%', $this->number('seconds'), $this->number('mix')),
            EditKind::Mono => 'Mono from '.('sum' === $this->word('side') ? 'both sides' : 'the '.$this->word('side')),
            default => $this->kind->label(),
        };
    }

    /** @param Settings $settings in place of those with their names */
    public function set(array $settings): self
    {
        return new self($this->kind, $this->from, $this->to, [...$this->settings, ...$settings], $this->on);
    }

    public function with(bool $on): self
    {
        return new self($this->kind, $this->from, $this->to, $this->settings, $on);
    }

    /** Whether it keeps to the beat's tempo whatever that becomes. */
    public function follows(): bool
    {
        return EditKind::InTime === $this->kind && $this->number('follow') > 0.0;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['kind' => $this->kind->value, 'from' => $this->from, 'to' => $this->to, 'on' => $this->on] + $this->settings;
    }

    /** @return array{int, int} */
    private function range(int $frames): array
    {
        return [max(0, min($frames, $this->from ?? 0)), max(0, min($frames, $this->to ?? $frames))];
    }

    /** Works on a stretch; before and after it everything stays as it was. */
    private function within(AudioSource $source, int $from, int $to, int $join): AudioSource
    {
        $frames = $source->frames();
        $inner = $this->changed(new Part($source, $from, $to));
        // What follows is not put off by what rings on.
        $inner = EditKind::Room === $this->kind && $to < $frames ? new Part($inner, 0, $to - $from) : $inner;
        $join *= \in_array($this->kind, [EditKind::Pitch, EditKind::Stretch], true) ? 2 : 1;
        $ahead = min($join, $from, intdiv($inner->frames(), 2));
        $after = min($join, $frames - $to, intdiv($inner->frames(), 2));
        $parts = [$inner];
        $overlaps = [];
        if ($from > 0) {
            array_unshift($parts, new Part($source, 0, $from + $ahead));
            $overlaps[] = $ahead;
        }
        if ($to < $frames) {
            $parts[] = new Part($source, $to - $after, $frames);
            $overlaps[] = $after;
        }

        return new Joined($parts, $overlaps);
    }

    private function changed(AudioSource $source): AudioSource
    {
        $rate = $source->sampleRate();
        $gain = static fn (float $g): AudioSource => new Shaped($source, static fn (float $place): float => $g);
        $shape = FadeShape::tryFrom($this->word('shape')) ?? FadeShape::Straight;

        return match ($this->kind) {
            EditKind::Silence => $gain(0.0),
            EditKind::Gain => $gain(Decibels::toGain($this->number('db'))),
            EditKind::Normalise => $gain(Decibels::toGain($this->number('db') - $this->level($source))),
            EditKind::FadeIn => new Shaped($source, $shape->gain(...)),
            EditKind::FadeOut => new Shaped($source, static fn (float $place): float => $shape->gain(1.0 - $place)),
            EditKind::Reverse => new Reversed($source),
            EditKind::Pitch => new Part(Resampled::toRate($this->stretched($source, StretchMap::by($this->pitchRatio(), $source->frames())), $rate, $this->pitchRatio()), 0, $source->frames()),
            EditKind::Stretch => $this->stretched($source, StretchMap::by($this->ratio(), $source->frames())),
            EditKind::InTime => $this->stretched($source, $this->map($source->frames())),
            EditKind::Speed => new Part(Resampled::toRate($source, $rate, 1.0 / $this->ratio()), 0, self::scaled($source->frames(), $this->ratio())),
            EditKind::Converter => $this->converted($source),
            EditKind::Mono => new OneSided($source, $this->word('side')),
            EditKind::Room => new InRoom($source, $this->number('seconds'), $this->number('mix'), (int) $this->number('tail')),
            default => $source,
        };
    }

    private function stretched(AudioSource $source, StretchMap $map): AudioSource
    {
        if ($map->keepsLength()) {
            return $source;
        }
        $material = Material::tryFrom($this->word('material'));
        if (Material::Tones === $material) {
            return Stretched::along($source, $map, $material);
        }
        $strength = OnsetStrength::of($source, null);
        $material ??= Material::byHighShare($strength->highShare());

        return Stretched::along($source, $map, $material, Material::Hits === $material ? Attacks::of($source, $strength, (int) max(1, $this->number('attacks'))) : []);
    }

    /** Down to the converter's rate and steps and up again: through filters, or by holding values. */
    private function converted(AudioSource $source): AudioSource
    {
        $rate = $source->sampleRate();
        $low = (int) min($rate, $this->number('rate'));
        $bits = (int) $this->number('bits');
        if ($this->number('filters') <= 0.0) {
            return new Stepped(new Held($source, $low), $bits);
        }
        $there = new Stepped(Resampled::toRate($source, $low), $bits);

        return new Part(Resampled::toRate($there, $rate), 0, $source->frames());
    }

    private function level(AudioSource $source): float
    {
        // As it is played, on both sides, whatever came before.
        $loudness = Loudness::of(new Part($source, 0, $source->frames()));

        return max(-80.0, 'loudness' === $this->word('measure') ? $loudness->integratedLufs : $loudness->samplePeakDb);
    }

    /** Asked for many places one after another, so the last one is kept. */
    private function map(int $frames): StretchMap
    {
        /** @var array{string, StretchMap|null} $last */
        static $last = ['', null];
        $key = implode('|', [$this->word('places'), $this->number('bpm'), $this->number('rate'), $frames]);
        if ($last[0] !== $key || null === $last[1]) {
            $last = [$key, $this->newMap($frames)];
        }

        return $last[1];
    }

    private function newMap(int $frames): StretchMap
    {
        $numbers = array_map(floatval(...), explode(' ', $this->word('places')));
        $places = array_map(static fn (array $pair): array => [(int) $pair[0], $pair[1] ?? 0.0], array_chunk($numbers, 2));

        return StretchMap::inTime($places, $frames, 60.0 / $this->number('bpm') * $this->number('rate'));
    }

    private static function scaled(int $frames, float $ratio): int
    {
        return max(1, (int) round($frames * $ratio));
    }

    /** Length of the result over that of the source. */
    private function ratio(): float
    {
        return match ($this->kind) {
            EditKind::Stretch => $this->number('percent') / 100.0,
            EditKind::Speed => 100.0 / $this->number('percent'),
            default => 1.0,
        };
    }

    private function pitchRatio(): float
    {
        return 2.0 ** ($this->number('cents') / 1200.0);
    }

    private function number(string $name): float
    {
        return (float) ($this->settings[$name] ?? 0.0);
    }

    private function word(string $name): string
    {
        return (string) ($this->settings[$name] ?? '');
    }
}
