<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Runs;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Marker;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Song\Section;

/**
 * Bars of a section are put in, taken out or played twice, for all of its parts; what moves and what lies over the song
 * behind them goes along. Patterns that other sections play as well stay as they are: this one gets its own.
 */
final readonly class SpliceSection implements Change
{
    private const LABELS = ['insert' => 'put into', 'delete' => 'taken out of', 'copy' => 'copied in'];

    /** @param int $bar the first of them, from 1 */
    private function __construct(private string $section, private string $how, private int $bar, private int $bars)
    {
    }

    public static function from(Fields $fields): self
    {
        $how = $fields->id('how');
        if (!isset(self::LABELS[$how])) {
            throw InvalidChange::field('how', 'must be one of: insert, delete, copy.');
        }

        return new self($fields->id('section'), $how, $fields->whole('bar', 1, Pattern::MAX_BARS), $fields->has('bars') ? $fields->whole('bars', 1, Pattern::MAX_BARS) : 1);
    }

    public function apply(Beat $beat): Beat
    {
        $section = $beat->section($this->section);
        $length = $section->lengthTicks($beat->patterns);
        $bar = ($section->meter ?? $beat->meter)->barTicks();
        [$from, $ticks] = [($this->bar - 1) * $bar, $this->bars * $bar];
        if ('insert' === $this->how ? $from > $length : $from >= $length) {
            throw InvalidChange::field('bar', \sprintf('must be a bar of %s, 1 to %d.', $section->name, (int) ceil($length / $bar)));
        }
        $ticks = 'insert' === $this->how ? $ticks : min($ticks, $length - $from);
        if ('delete' === $this->how && $ticks >= $length) {
            throw new InvalidChange(\sprintf('Nothing would be left of %s: delete the section instead.', $section->name));
        }
        $runs = $this->runs($from, $ticks, $length);
        $now = 'delete' === $this->how ? $length - $ticks : $length + $ticks;
        $song = self::song($beat, $section, $runs, $length, $now);
        $movements = $beat->movements->each(static fn (Movement $m): Movement => match (true) {
            Scope::Song === $m->scope => $m->with(['curve' => $song->curve($m->curve)]),
            Scope::Section === $m->scope && $m->of === $section->id => $m->with(['curve' => (new Runs($runs))->curve($m->curve)]),
            default => $m,
        });
        $beat = $beat->with([
            'movements' => $movements,
            'clips' => array_filter(array_map(static fn (Clip $c): ?Clip => null === ($at = $song->tick($c->at)) ? null : $c->with(['at' => $at]), $beat->clips)),
            'markers' => array_filter(array_map(static fn (Marker $m): ?Marker => null === ($at = $song->tick($m->at)) ? null : $m->at($at), $beat->markers)),
        ]);
        foreach ($section->patterns as $part => $id) {
            [$beat, $section] = self::spliced($beat, $section, (string) $part, $beat->pattern($id), $runs, $length, $now);
        }

        return $beat->withSection(null === $section->ticks ? $section : $section->with(['ticks' => $now]));
    }

    /**
     * @param list<array{int, int, int}> $runs
     *
     * @return array{Beat, Section}
     */
    private static function spliced(Beat $beat, Section $section, string $part, Pattern $pattern, array $runs, int $length, int $now): array
    {
        if ($pattern->isEmpty()) {
            return [$beat, $section];
        }
        $new = $pattern->rearranged($runs, $now);
        // What moves in it goes round with it, and does so in the longer one.
        $turns = [];
        foreach ($runs as [$was, $is, $ticks]) {
            for ($at = $was; $at < $was + $ticks; $at += $piece) {
                $piece = min($was + $ticks - $at, $pattern->ticks - $at % $pattern->ticks);
                $turns[] = [$at % $pattern->ticks, $is + $at - $was, $piece];
            }
        }
        $others = array_filter($beat->sections, static fn (Section $s): bool => $s->id !== $section->id && \in_array($pattern->id, $s->patterns, true));
        if ([] !== $others) {
            $new = $new->with(['id' => $beat->nextPatternId(), 'name' => mb_substr($section->name.', '.$beat->part($part)->name, 0, 80)]);
            $section = $section->withCell($part, $new->id);
            $beat = $beat->with(['movements' => $beat->movements->copied(Scope::Pattern, $pattern->id, $new->id)]);
        }
        $moved = new Runs($turns);

        return [$beat->withPattern($new)->with(['movements' => $beat->movements->each(static fn (Movement $m): Movement => Scope::Pattern === $m->scope && $m->of === $new->id ? $m->with(['curve' => $moved->curve($m->curve)]) : $m)]), $section];
    }

    /** @return list<array{int, int, int}> within the section */
    private function runs(int $from, int $ticks, int $length): array
    {
        return array_values(array_filter(match ($this->how) {
            'insert' => [[0, 0, $from], [$from, $from + $ticks, $length - $from]],
            'delete' => [[0, 0, $from], [$from + $ticks, $from, $length - $from - $ticks]],
            default => [[0, 0, $from + $ticks], [$from, $from + $ticks, $ticks], [$from + $ticks, $from + 2 * $ticks, $length - $from - $ticks]],
        }, static fn (array $run): bool => $run[2] > 0));
    }

    /**
     * All of the song, with the section changed each time it comes.
     *
     * @param list<array{int, int, int}> $runs
     */
    private static function song(Beat $beat, Section $section, array $runs, int $length, int $now): Runs
    {
        $all = [];
        $was = $is = 0;
        foreach (Passage::song($beat) as $entry) {
            $ticks = $beat->section($entry->section)->lengthTicks($beat->patterns);
            if ($entry->section !== $section->id) {
                $all[] = [$was, $is, $entry->repeats * $ticks];
                $was += $entry->repeats * $ticks;
                $is += $entry->repeats * $ticks;
                continue;
            }
            for ($pass = 0; $pass < $entry->repeats; ++$pass, $was += $length, $is += $now) {
                foreach ($runs as [$from, $to, $long]) {
                    $all[] = [$was + $from, $is + $to, $long];
                }
            }
        }
        // Behind its end as far as anything may lie.
        $all[] = [$was, $is, 1 << 30];

        return new Runs($all);
    }

    public function label(Beat $beat): string
    {
        return \sprintf('%s %s %s', 1 === $this->bars ? 'A bar' : $this->bars.' bars', self::LABELS[$this->how], $beat->section($this->section)->name);
    }

    public function touches(): array
    {
        return ['section/'.$this->section, 'pattern', 'curve', 'clip', 'marker'];
    }
}
