<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Role;

/**
 * Puts several sounds on pads from one pad on: on the free ones, in the place of what is there, all of them
 * stacked in this pad beside what it holds, or in this pad so that they answer by strength, the quietest to the softest
 * strikes, or in turn.
 */
final readonly class LandSounds implements Change
{
    private const HOW = ['free', 'replace', 'stack', 'strength', 'turn'];

    /** @param non-empty-list<array{Layer, Role, float}> $sounds with role and peak in dB */
    private function __construct(private string $pad, private string $how, private array $sounds)
    {
    }

    public static function from(Fields $fields): self
    {
        $how = $fields->text('how', 8);
        if (!\in_array($how, self::HOW, true)) {
            throw InvalidChange::field('how', 'must be one of: '.implode(', ', self::HOW).'.');
        }
        $sounds = array_map(static fn (Fields $f): array => [
            new Layer($f->text('name'), $f->hash('sample'), $start = $f->has('start') ? $f->frame('start') : 0, $f->has('end') ? $f->frame('end', $start + 1) : $f->frame('frames', $start + 1)),
            $f->choice('role', Role::class),
            $f->number('peakDb', -200.0, 60.0),
        ], $fields->rows('sounds', 128));
        if ([] === $sounds) {
            throw InvalidChange::field('sounds', 'must name at least one sound.');
        }
        if ('strength' === $how) {
            usort($sounds, static fn (array $a, array $b): int => $a[2] <=> $b[2]);
        }

        return new self($fields->id('pad'), $how, $sounds);
    }

    public function apply(Beat $beat): Beat
    {
        if (!$beat->kit->hasPlace($this->pad)) {
            throw InvalidChange::field('pad', 'must be a place in one of the banks.');
        }
        if (\in_array($this->how, ['stack', 'strength', 'turn'], true)) {
            return $this->stacked($beat);
        }
        $places = [];
        foreach ($beat->kit->banks as $bank) {
            array_push($places, ...$bank->padIds());
        }
        $places = \array_slice($places, (int) array_search($this->pad, $places, true));
        if ('free' === $this->how) {
            $places = array_values(array_filter($places, static fn (string $id): bool => null === $beat->kit->pad($id)));
        }
        if (\count($places) < \count($this->sounds)) {
            throw new InvalidChange(\sprintf('%d sounds, but only %d %s from this one on.', \count($this->sounds), \count($places), 'free' === $this->how ? 'free pads' : 'pads'));
        }
        foreach ($this->sounds as $i => [$sound, $role]) {
            $beat = self::filled($beat, $places[$i], $sound, $role);
        }

        return $beat;
    }

    private function stacked(Beat $beat): Beat
    {
        $layers = array_map(static fn (array $s): Layer => $s[0], $this->sounds);
        $there = $beat->kit->pad($this->pad);
        $anew = null === $there || 'stack' !== $this->how;
        if ($anew) {
            $beat = self::filled($beat, $this->pad, array_shift($layers), $this->sounds[0][1]);
        }
        $pad = $beat->pad($this->pad);
        $pad = $anew && 'stack' !== $this->how ? $pad->with(['name' => self::common(array_map(static fn (array $s): string => $s[0]->name, $this->sounds))]) : $pad;
        // Who answers all of them is followed by who answers otherwise, so that they share anew.
        $pad = $pad->with(['layers' => [...$pad->layers, ...$layers]])->with(['answer' => Answer::All]);

        return $beat->withKit($beat->kit->withPad(match ($this->how) {
            'strength' => $pad->with(['answer' => Answer::Strength]),
            'turn' => $pad->with(['answer' => Answer::Turn]),
            default => $pad,
        }));
    }

    /**
     * What their names have in common: "Snare v1" to "Snare v8" are a snare; where that is little, the name of the last.
     *
     * @param non-empty-list<string> $names
     */
    private static function common(array $names): string
    {
        $common = $names[0];
        foreach ($names as $name) {
            while (!str_starts_with($name, $common)) {
                $common = mb_substr($common, 0, -1);
            }
        }
        $common = \count($names) > 1 ? (string) preg_replace('/[\s_.\-]*(\b(v|vel|velocity|rr|take|layer))?[\s_.\-]*\d*$/iu', '', $common) : $common;

        return mb_strlen($common) >= 3 ? $common : $names[\count($names) - 1];
    }

    private static function filled(Beat $beat, string $pad, Layer $sound, Role $role): Beat
    {
        return FillPad::from(new Fields([
            'pad' => $pad, 'sample' => $sound->sample, 'name' => $sound->name, 'role' => $role->value, 'start' => $sound->start, 'end' => $sound->end,
        ]))->apply($beat);
    }

    public function label(Beat $beat): string
    {
        $count = \count($this->sounds);

        return match ($this->how) {
            'stack' => $count.' sounds stacked on a pad',
            'strength' => $count.' sounds answer by strength',
            'turn' => $count.' sounds answer in turn',
            default => $count.' sounds on pads',
        };
    }

    public function touches(): array
    {
        return ['kit', 'mixer/new'];
    }
}
