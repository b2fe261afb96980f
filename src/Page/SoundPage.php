<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Route;
use Pestle\Core\Kit\RoutedBy;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Song\Part;
use Pestle\Core\Synth\Nearby;
use Pestle\Core\Synth\Recipes;
use Pestle\Core\Synth\Shelf;
use Pestle\Core\Synth\Shelf\Measured;
use Pestle\Core\Synth\ShelfSound;
use Pestle\Core\Synth\Wavetables;

/** What Sound shows of an instrument: how it sounds, what it is made of, what moves what in it, and what lies on the shelf and nearby. */
final readonly class SoundPage
{
    use TreatmentChoices;

    /** Points of a wave that are drawn. */
    private const DRAWN = 64;
    /** Semitones from the middle note to the low and the high one that are shown. */
    private const APART = 24;
    private const INNER = ['amp' => 'Shape', 'pitch' => 'Pitch sweep', 'filter' => 'Tone', 'lfo1' => 'First slow wave', 'lfo2' => 'Second slow wave', 'env' => 'Second envelope'];
    private const COLOURS = ['tide', 'plum', 'clay', 'basil', 'turmeric', 'paprika'];

    public TreatmentDrawing $treatment;
    public string $group;
    /** Which of its waves is open; null for none. */
    public ?int $wave;

    /** Which of the sounds that are stacked is open: 0 for the first. */
    public int $at;
    public Keys $keys;

    /** @param Keys $whole with all that is stacked on it */
    public function __construct(private BeatPage $page, public Part $part, public Keys $whole, public ?ShelfPage $kept = null)
    {
        $this->at = max(0, min(\count($whole->stack), (int) $page->chosen('stacked')));
        $this->keys = $keys = $whole->at($this->at) ?? $whole;
        $this->treatment = new TreatmentDrawing($keys->treatment, $page->beat->tempo);
        $this->group = \in_array($page->chosen('group'), ['shape', 'tone', 'movement', 'envelope', 'notes', 'place'], true) ? $page->chosen('group') : '';
        $at = $page->chosen('layer');
        $this->wave = '' !== $at && isset($keys->waves[(int) $at]) && '' === $this->group ? (int) $at : null;
    }

    public function under(string $inside = ''): string
    {
        return $this->of($this->at).('' === $inside ? '' : '/'.$inside);
    }

    /** Path of one of the sounds that are stacked. */
    public function of(int $at): string
    {
        return 'part/'.$this->part->id.(0 === $at ? '' : '/stack/'.($at - 1));
    }

    /** @return list<array{name: string, keys: Keys}> what is stacked; none where one sound plays alone */
    public function stack(): array
    {
        return [] === $this->whole->stack ? [] : array_map(fn (Keys $one): array => ['name' => '' === $one->name ? $this->part->name : $one->name, 'keys' => $one], $this->whole->all());
    }

    /** @return array<string, string> names of the other instruments, which could be stacked too, by id */
    public function otherParts(): array
    {
        return array_map(static fn (Part $p): string => $p->name, array_filter($this->page->beat->parts, fn (Part $p): bool => !$p->isKit() && $p->id !== $this->part->id));
    }

    /** @return array<string, array<string, string>> names of the settings that notes may move, by path, by where they are */
    public function destinations(): array
    {
        $all = [];
        $inner = ['' => $this->keys, ...array_filter($this->keys->inner(), static fn (string $path): bool => !str_starts_with($path, 'stack') && !str_starts_with($path, 'zones') && 'blend' !== $path, \ARRAY_FILTER_USE_KEY)];
        foreach ($inner as $path => $holder) {
            $of = match (true) {
                '' === $path => 'The sound',
                str_starts_with($path, 'waves/') => \sprintf('Wave %d', 1 + (int) substr($path, 6)),
                default => self::INNER[$path] ?? $path,
            };
            foreach ($holder::parameters() as $field => $parameter) {
                if (!\is_bool($parameter->default) && null === $parameter->choice && !\in_array($field, ['low', 'high', 'voices', 'glideMs', 'strength'], true)) {
                    $all[$of][('' === $path ? '' : $path.'/').$field] = $parameter->name;
                }
            }
        }

        return $all;
    }

    /** @return list<array{by: string, to: string, name: string, amount: float, label: string}> what notes move */
    public function routes(): array
    {
        $names = [];
        foreach ($this->destinations() as $of => $fields) {
            foreach ($fields as $path => $name) {
                $names[$path] = str_starts_with($of, 'Wave') ? mb_strtolower($name).' of '.mb_strtolower($of) : mb_strtolower($name);
            }
        }

        return array_map(static fn (Route $r): array => ['by' => $r->by->value, 'to' => $r->to, 'name' => $names[$r->to] ?? 'what is no more', 'amount' => 100.0 * $r->amount, 'label' => $r->by->label()], $this->keys->routes);
    }

    /** @return list<RoutedBy> */
    public function routedBy(): array
    {
        return RoutedBy::cases();
    }

    /** @return array<string, string> */
    public function recipes(): array
    {
        return Recipes::ALL;
    }

    public function held(): bool
    {
        return true;
    }

    /** @return list<WaveKind> */
    public function kinds(): array
    {
        return WaveKind::cases();
    }

    /** @return list<WaveActs> */
    public function acts(): array
    {
        return WaveActs::cases();
    }

    /** @return list<array{wave: Wave, name: string, said: string, path: string, colour: string, without: list<array<string, mixed>>}> what it is made of; each with the list without it */
    public function waves(): array
    {
        $rows = [];
        $tables = new Wavetables();
        foreach ($this->keys->waves as $i => $wave) {
            $without = $this->keys->waves;
            unset($without[$i]);
            $rows[] = ['wave' => $wave, 'name' => ucfirst($wave->kind->label()), 'said' => $this->said($wave), 'path' => self::path($wave, $tables), 'colour' => self::COLOURS[$i % \count(self::COLOURS)], 'without' => array_map(static fn (Wave $w): array => $w->toArray(), array_values($without))];
        }

        return $rows;
    }

    /** @return array<string, list<array<string, mixed>>> the list of its waves with one more, by what that is called */
    public function more(): array
    {
        $all = array_map(static fn (Wave $w): array => $w->toArray(), $this->keys->waves);
        $more = [
            'a wave' => new Wave(WaveKind::Saw, levelDb: -9.0), 'an octave below' => new Wave(WaveKind::Sine, levelDb: -6.0, octave: -1), 'stacked saws' => new Wave(WaveKind::Saw, levelDb: -9.0, voices: 5),
            'drawn partials' => new Wave(WaveKind::Partials, levelDb: -9.0, partials: [1.0, 0.5, 0.33, 0.25]), 'noise' => new Wave(WaveKind::Noise, levelDb: -24.0), 'a click of noise' => new Wave(WaveKind::Noise, levelDb: -18.0, decayMs: 40.0),
            'a plucked string' => new Wave(WaveKind::String, levelDb: -6.0, width: 20.0), 'something struck' => new Wave(WaveKind::Bar, levelDb: -9.0), 'what bends the last' => new Wave(WaveKind::Sine, WaveActs::Bends, depth: 1.5, decayMs: 600.0), 'what restarts the last' => new Wave(WaveKind::Sine, WaveActs::Restarts),
        ];

        return \count($all) >= Wave::MOST ? [] : array_map(static fn (Wave $w): array => [...$all, $w->toArray()], $more);
    }

    /** A wave in words. */
    private function said(Wave $wave): string
    {
        $tuned = [];
        0 === $wave->octave || $tuned[] = 1 === abs($wave->octave) ? ($wave->octave > 0 ? 'an octave up' : 'an octave down') : \sprintf('%d octaves %s', abs($wave->octave), $wave->octave > 0 ? 'up' : 'down');
        0 === $wave->semitones || $tuned[] = \sprintf('%+d semitones', $wave->semitones);
        1 === $wave->times || $tuned[] = \sprintf('%d times the pitch', $wave->times);
        $kind = match (true) {
            WaveKind::Pulse === $wave->kind => \sprintf('%d %% wide', round($wave->width)),
            WaveKind::Noise === $wave->kind => $wave->bright > 0.75 ? 'bright' : ($wave->bright > 0.45 ? 'grey' : 'dark'),
            default => '',
        };
        $stacked = $wave->voices > 1 ? \sprintf('%d stacked, %d ct apart', $wave->voices, round($wave->detune)) : '';
        $acts = match ($wave->acts) {
            WaveActs::Sounds => '',
            WaveActs::Bends => \sprintf('bends the one above by %s', round($wave->depth, 2)),
            default => $wave->acts->label(),
        };
        $time = array_filter([$wave->delayMs > 0.0 ? \sprintf('after %d ms', round($wave->delayMs)) : '', $wave->decayMs > 0.0 ? \sprintf('gone in %s', $wave->decayMs < 1000.0 ? round($wave->decayMs).' ms' : round($wave->decayMs / 1000.0, 1).' s') : '']);

        return implode(', ', array_filter([$acts, $kind, $stacked, ...$tuned, ...$time])) ?: 'as played';
    }

    private static function path(Wave $wave, Wavetables $tables): string
    {
        $values = match (true) {
            WaveKind::Noise === $wave->kind => array_map(static fn (int $i): float => $tables->noise($wave->bright, 0)[9000 + 3 * $i], range(0, self::DRAWN)),
            $wave->kind->isStruck() => array_map(static fn (int $i): float => sin(1.9 * $i) * exp(-$i / 16), range(0, self::DRAWN)),
            WaveKind::Pulse === $wave->kind => array_map(static fn (int $i): float => fmod($i / self::DRAWN * 2.0, 1.0) < 0.01 * $wave->width ? 0.9 : -0.9, range(0, self::DRAWN)),
            default => array_map(static fn (int $i): float => $tables->of($wave, 24)[(2 * $i * Wavetables::SIZE / self::DRAWN) % Wavetables::SIZE], range(0, self::DRAWN)),
        };
        $most = max(1e-6, ...array_map(abs(...), $values));
        $path = '';
        foreach ($values as $i => $value) {
            $path .= \sprintf('%s%.1f %.1f', '' === $path ? 'M' : 'L', 75.0 * $i / self::DRAWN, 15.0 - 12.0 * $value / $most);
        }

        return $path;
    }

    /** @return list<array{by: string, does: string, under: string, field: string, value: float, least: float, most: float, step: float, unit: string, places: int, colour: string}> what moves what, as sentences with a number */
    public function sentences(): array
    {
        $t = $this->keys->treatment;
        $filtered = FilterShape::Off !== $t->filter->shape;
        $rows = [['Strength', 'makes it louder, by a power of', '', 'strength', $this->keys, 'basil']];
        if ($filtered) {
            array_push($rows, ['Strength', 'opens the tone by', 'filter', 'strengthCents', $t->filter, 'basil'], ['The envelope', \sprintf('moves the tone, back in %d ms, by', round($t->filter->decayMs)), 'filter', 'envelopeCents', $t->filter, 'tide'], ['The key', 'moves the tone along, as a share of', 'filter', 'keyTracking', $t->filter, 'clay']);
        }
        $rows[] = ['The strike', \sprintf('begins off pitch, there in %d ms, by', round($t->pitch->decayMs)), 'pitch', 'cents', $t->pitch, 'paprika'];
        foreach (['lfo1' => $t->lfo1, 'lfo2' => $t->lfo2] as $id => $lfo) {
            if (LfoTarget::None !== $lfo->target) {
                $rows[] = ['lfo1' === $id ? 'A slow wave' : 'Another wave', \sprintf('moves the %s, %s, by', $lfo->target->value, $lfo->ticks > 0 ? TreatmentDrawing::inTime($lfo->ticks) : round($lfo->hz, 2).' times a second'), $id, 'depth', $lfo, 'plum'];
            }
        }
        if ($t->env->acts()) {
            $rows[] = ['The second envelope', \sprintf('moves the %s, there in %d ms, by', $t->env->target->value, round($t->env->delayMs + $t->env->attackMs)), 'env', 'depth', $t->env, 'tide'];
        }
        foreach ($this->keys->waves as $i => $wave) {
            if ($wave->strength > 0.0 || WaveActs::Bends === $wave->acts) {
                $rows[] = ['Strength', \sprintf('brings in %s %d, as a share of', $wave->kind->label(), $i + 1), 'waves/'.$i, 'strength', $wave, 'basil'];
            }
            if ($wave->sway > 0.0) {
                $rows[] = ['Time', \sprintf('sways the width of wave %d by', $i + 1), 'waves/'.$i, 'sway', $wave, 'plum'];
            }
        }

        return array_map(function (array $row): array {
            [$by, $does, $inside, $field, $holder, $colour] = $row;
            $p = $holder::parameters()[$field];
            $value = $holder->settings()[$field];

            return ['by' => $by, 'does' => $does, 'under' => $this->under($inside), 'field' => $field, 'value' => is_numeric($value) ? (float) $value : 0.0, 'least' => $p->least, 'most' => $p->most, 'step' => $p->step, 'unit' => $p->unit, 'places' => $p->places, 'colour' => $colour];
        }, $rows);
    }

    /** @return array<string, list<ShelfSound>> by what they are for */
    public function shelf(): array
    {
        $words = array_filter(explode(' ', mb_strtolower($this->page->chosen('search'))));
        $shelf = [];
        foreach (Shelf::all() as $sound) {
            $text = mb_strtolower($sound->name.' '.Shelf::USES[$sound->use].' '.$sound->about.' '.Measured::brightness($sound->id).' '.Measured::length($sound->id));
            $wanted = array_filter([$this->page->chosen('bright'), $this->page->chosen('long')]);
            if ([] === array_diff($wanted, [Measured::brightness($sound->id), Measured::length($sound->id)]) && [] === array_filter($words, static fn (string $word): bool => !str_contains($text, $word))) {
                $shelf[Shelf::USES[$sound->use]][] = $sound;
            }
        }

        return $shelf;
    }

    /** @return array<string, list<string>> what the sounds of the shelf are told apart by, as measured */
    public function measured(): array
    {
        return ['bright' => Measured::BRIGHTNESS, 'long' => Measured::LENGTHS];
    }

    /** @return array<string, string> names by direction */
    public function nearby(): array
    {
        return Nearby::WAYS;
    }

    /** @return array<string, string> names of the shelf by id */
    public function others(): array
    {
        return array_map(static fn (ShelfSound $s): string => $s->name, Shelf::all());
    }

    /** @return list<int> a low, a middle and a high note, around those that the part plays */
    public function pitches(): array
    {
        return self::around($this->page->beat, $this->part);
    }

    /** @return list<int> */
    public static function around(Beat $beat, Part $part): array
    {
        $played = [];
        foreach ($beat->patterns as $pattern) {
            if ($pattern->part === $part->id) {
                array_push($played, ...array_column($pattern->notes, 'pitch'));
            }
        }
        sort($played);
        $middle = max(2 * self::APART, min(127 - self::APART, $played[intdiv(\count($played), 2)] ?? 60));

        return [$middle - self::APART, $middle, $middle + self::APART];
    }

    /** Where the picture of its notes comes from; another sound, another address. */
    public function picture(): string
    {
        return \sprintf('/beats/%d/sound/%s/%s', $this->page->record->id, $this->part->id, substr(hash('xxh128', serialize([$this->whole, $this->pitches(), $this->page->beat->tempo->bpm])), 0, 16));
    }
}
