<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Ticks;

/**
 * A beat from a description that people and programs write: sounds on pads, patterns as rows of steps and notes, sections, a
 * song, and any setting by its path. Described in docs/written-beats.md. It is made by the same changes as in the pages, so
 * that nothing is possible here that is not there.
 */
final class WrittenBeat
{
    private const KIT = 'kit';
    private const MOST = 4000;
    /** Strengths of the letters of a row of steps; digits are ninths. */
    private const STRENGTHS = ['x' => 100, 'X' => 127, 'o' => 60];
    private Beat $beat;
    /** @var array<string, string> ids by the names they have in the description */
    private array $parts = [self::KIT => 'part-1'];
    /** @var array<string, array<string, string>> ids of patterns by part and name */
    private array $patterns = [];
    /** @var array<string, string> */
    private array $sections = [];

    /** @param \Closure(string): array{hash: string, frames: int, role: string, note: float} $sample what is known of a file that is named, its note as MIDI */
    private function __construct(private readonly \Closure $sample)
    {
    }

    /**
     * @param \Closure(string): array{hash: string, frames: int, role: string, note: float} $sample
     *
     * @throws InvalidChange that says where in the description
     */
    public static function read(Fields $written, \Closure $sample): Beat
    {
        $made = new self($sample);
        self::known('a beat', $written, ['name', 'bpm', 'key', 'meter', 'pads', 'instruments', 'patterns', 'sections', 'song', 'set']);
        $made->beat = Beat::empty($written->text('name'));
        foreach (['meter' => 'set-meter', 'bpm' => 'set-tempo', 'key' => 'set-key'] as $field => $type) {
            $written->has($field) && $made->change($field, ['type' => $type, $field => $written->raw($field)]);
        }
        foreach ($written->has('pads') ? $written->nested('pads')->keys() : [] as $pad) {
            $made->pad($pad, $written->nested('pads'));
        }
        foreach (['instruments' => $made->instrument(...), 'patterns' => $made->pattern(...), 'sections' => $made->section(...)] as $list => $one) {
            foreach ($written->has($list) ? $written->rows($list, self::MOST) : [] as $n => $fields) {
                $one(\sprintf('%s, number %d', $list, $n + 1), $fields);
            }
        }
        $made->song($written);
        foreach ($written->has('set') ? $written->nested('set')->keys() : [] as $path) {
            $made->change('set', ['type' => 'set', $path => $written->nested('set')->raw($path)]);
        }

        // Nobody wrote the pattern that an empty beat begins with.
        [] === $made->patterns || [] === $made->sections || $made->change('patterns', ['type' => 'remove-pattern', 'pattern' => 'p1']);

        return $made->beat;
    }

    /** @param list<string> $known */
    private static function known(string $what, Fields $fields, array $known): void
    {
        foreach (array_diff($fields->keys(), $known) as $unknown) {
            throw InvalidChange::field($unknown, \sprintf('is nothing that %s has; there are: %s.', $what, implode(', ', $known)));
        }
    }

    private function pad(string $pad, Fields $pads): void
    {
        $where = 'pads, '.$pad;
        $fields = \is_string($pads->raw($pad)) && !str_starts_with(trim($pads->raw($pad)), '{') ? new Fields(['sample' => $pads->raw($pad)]) : $pads->nested($pad);
        $sound = $this->sound($where, $fields);
        $this->change($where, ['type' => 'fill-pad', 'pad' => $pad, 'sample' => $sound['hash'], 'name' => $fields->has('name') ? $fields->raw('name') : self::title($fields->text('sample', 400)), 'role' => $fields->has('role') ? $fields->raw('role') : $sound['role'], 'start' => 0, 'end' => $sound['frames']]);
        foreach (array_diff($fields->keys(), ['sample', 'name', 'role']) as $setting) {
            $this->change($where, ['type' => 'set', 'under' => 'kit/'.$pad, $setting => $fields->raw($setting)]);
        }
    }

    private function instrument(string $where, Fields $fields): void
    {
        $name = $fields->text('name');
        $id = 'part-'.(\count($this->beat->parts) + 1);
        if ($fields->has('sample')) {
            $sound = $this->sound($where, $fields);
            $root = $fields->has('root') ? self::pitch($where, $fields->raw('root')) : $sound['note'];
            $made = ['sample' => $sound['hash'], 'start' => 0, 'end' => $sound['frames'], 'rootCents' => (int) round(100 * $root)];
        } else {
            $made = ['shelf' => $fields->has('sound') ? $fields->raw('sound') : null];
        }
        $this->change($where, ['type' => 'add-part', 'id' => $id, 'name' => $name, ...$made]);
        $this->parts[$name] = $id;
        foreach (array_diff($fields->keys(), ['name', 'sample', 'root', 'sound']) as $setting) {
            $this->change($where, ['type' => 'set', 'under' => 'part/'.$id, $setting => $fields->raw($setting)]);
        }
    }

    private function pattern(string $where, Fields $fields): void
    {
        self::known($where, $fields, ['name', 'part', 'bars', 'step', 'swing', 'steps', 'notes']);
        $name = $fields->text('name');
        $part = $fields->has('part') ? $fields->text('part') : self::KIT;
        $id = $this->parts[$part] ?? throw new InvalidChange(\sprintf('%s: there is no part named "%s".', $where, $part));
        $pattern = $this->beat->nextPatternId();
        $this->change($where, ['type' => 'add-pattern', 'id' => $pattern, 'name' => $name, 'part' => $id]);
        $this->change($where, ['type' => 'set-pattern', 'pattern' => $pattern, 'bars' => $fields->has('bars') ? $fields->raw('bars') : 1]);
        $step = $fields->has('step') ? (int) round($fields->number('step', 1 / Ticks::PER_QUARTER, 16) * Ticks::PER_QUARTER) : intdiv(Ticks::PER_QUARTER, 4);
        foreach ($fields->has('steps') ? $fields->nested('steps')->keys() : [] as $pad) {
            $hits = self::steps($where.', '.$pad, $fields->nested('steps')->text($pad, 2000), $pad, $step);
            [] === $hits || $this->change($where.', '.$pad, ['type' => 'edit-hits', 'pattern' => $pattern, 'hits' => $hits]);
        }
        $notes = array_map(static fn (mixed $row): array => self::note($where, $row), $fields->has('notes') ? $fields->items('notes', 20_000) : []);
        [] === $notes || $this->change($where, ['type' => 'edit-notes', 'pattern' => $pattern, 'notes' => $notes]);
        if ($fields->has('swing')) {
            $this->change($where, ['type' => 'set', 'pattern/'.$pattern.'/feel/swing' => $fields->raw('swing')]);
        }
        $this->patterns[$id][$name] = $pattern;
    }

    /** @return list<array{int, string, int}> tick, pad and strength */
    private static function steps(string $where, string $row, string $pad, int $ticks): array
    {
        $hits = [];
        foreach (str_split((string) preg_replace('/[\s|]+/', '', $row)) as $n => $letter) {
            $strength = self::STRENGTHS[$letter] ?? (ctype_digit($letter) && '0' !== $letter ? (int) round(127 * (int) $letter / 9) : null);
            if (null !== $strength) {
                $hits[] = [$n * $ticks, $pad, $strength];
            } elseif (!\in_array($letter, ['-', '.'], true)) {
                throw new InvalidChange(\sprintf('%s: "%s" is no step. x, X, o and 1 to 9 strike, - and . do not; | and spaces count for nothing.', $where, $letter));
            }
        }

        return $hits;
    }

    /** @return array{int, int, int, int} tick, pitch, strength and length in ticks; written as quarter, pitch, quarters and strength */
    private static function note(string $where, mixed $row): array
    {
        $fields = new Fields(\is_array($row) && \count($row) >= 3 && \count($row) <= 4 ? array_combine(['at', 'pitch', 'length', 'strength'], [...array_values($row), ...3 === \count($row) ? [100] : []]) : throw new InvalidChange($where.': a note is [quarter, pitch, quarters] or [quarter, pitch, quarters, strength].'));
        $ticks = static fn (string $field): int => (int) round($fields->number($field, 0, 100_000) * Ticks::PER_QUARTER);

        return [$ticks('at'), (int) round(self::pitch($where, $fields->raw('pitch'))), $fields->whole('strength', 1, 127), max(1, $ticks('length'))];
    }

    private function section(string $where, Fields $fields): void
    {
        self::known($where, $fields, ['name', 'patterns']);
        $name = $fields->text('name');
        $id = [] === $this->sections ? 's1' : 's'.(\count($this->beat->sections) + 1);
        $this->change($where, [] === $this->sections ? ['type' => 'set-section', 'section' => $id, 'name' => $name] : ['type' => 'add-section', 'id' => $id, 'name' => $name]);
        [] === $this->sections && $this->change($where, ['type' => 'set-cell', 'section' => $id, 'part' => 'part-1']);
        $this->sections[$name] = $id;
        foreach ($fields->has('patterns') ? $fields->nested('patterns')->keys() : [] as $part) {
            $called = $fields->nested('patterns')->text($part);
            $own = $this->parts[$part] ?? throw new InvalidChange(\sprintf('%s: there is no part named "%s".', $where, $part));
            $this->change($where, ['type' => 'set-cell', 'section' => $id, 'part' => $own, 'pattern' => $this->patterns[$own][$called] ?? throw new InvalidChange(\sprintf('%s: %s has no pattern named "%s".', $where, $part, $called))]);
        }
    }

    /** Names of sections in order, each once or "Verse x2"; without it all sections, once each. */
    private function song(Fields $written): void
    {
        $rows = $written->has('song') ? $written->texts('song', Beat::MAX_SONG) : array_keys($this->sections);
        $entries = $repeats = [];
        foreach ($rows as $n => $row) {
            preg_match('/^(.*?)(?: x(\d{1,2}))?$/u', (string) $row, $parts);
            $section = $this->sections[$parts[1] ?? ''] ?? throw new InvalidChange(\sprintf('song, number %d: there is no section named "%s".', $n + 1, $parts[1] ?? ''));
            $entries[] = ['e'.($n + 1), $section];
            $repeats['song/e'.($n + 1).'/repeats'] = (int) ($parts[2] ?? 1);
        }
        if ([] !== $entries) {
            $this->change('song', ['type' => 'set-song', 'entries' => $entries]);
            foreach (array_filter($repeats, static fn (int $times): bool => 1 !== $times) as $path => $times) {
                $this->change('song', ['type' => 'set', $path => $times]);
            }
        }
    }

    /** @return array{hash: string, frames: int, role: string, note: float} */
    private function sound(string $where, Fields $fields): array
    {
        try {
            return ($this->sample)($fields->text('sample', 400));
        } catch (InvalidChange $e) {
            throw new InvalidChange($where.': '.$e->getMessage());
        }
    }

    /** @return float MIDI note of "D2" or a number; C4 is 60 */
    private static function pitch(string $where, mixed $value): float
    {
        if (\is_string($value) && preg_match('/^([A-G][b#]?)(-?\d)$/', $value, $parts)) {
            return Key::named($parts[1].' major')->tonic + 12.0 * ((int) $parts[2] + 1);
        }

        return is_numeric($value) && $value >= 0 && $value <= 127 ? (float) $value : throw new InvalidChange(\sprintf('%s: %s is no pitch. Write it like D2 or F#3, or as a MIDI number.', $where, json_encode($value)));
    }

    private static function title(string $file): string
    {
        return mb_substr((string) preg_replace('/\.\w{1,5}$/', '', basename($file)), 0, 40) ?: 'Sound';
    }

    /** @param array<string, mixed> $fields */
    private function change(string $where, array $fields): void
    {
        try {
            $this->beat = Changes::read($fields)->apply($this->beat);
        } catch (InvalidChange $e) {
            throw new InvalidChange($where.': '.$e->getMessage());
        }
    }
}
