<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Beat\Codec\MixerCodec;
use Pestle\Core\Beat\Codec\OlderFormats;
use Pestle\Core\Beat\Codec\PatternCodec;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Pattern\Groove;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Marker;
use Pestle\Core\Song\Movements;
use Pestle\Core\Song\Part;
use Pestle\Core\Song\Section;
use Pestle\Core\Song\Track;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;

/**
 * A beat as canonical JSON: the same beat always gives the same bytes. Described in docs/formats.md.
 * A later format gets a number of its own, and documents of this one are raised to it as arrays.
 */
final class BeatCodec
{
    public const FORMAT = 15;

    public static function encode(Beat $beat): string
    {
        return self::json(self::toArray($beat));
    }

    /**
     * @param KnownPatterns|null $known those that were read before need not be read again
     *
     * @throws InvalidChange when it isn't a beat this version can read
     */
    public static function decode(string $json, ?KnownPatterns $known = null): Beat
    {
        $apart = null !== $known && str_starts_with($json, '{"format":'.self::FORMAT.',') ? KnownPatterns::apart($json) : null;
        if (null !== $known && null !== $apart && \count($apart[1]) <= Beat::MAX_PATTERNS) {
            $patterns = array_map(static fn (string $one): Pattern => $known->of($one, self::pattern(...)), $apart[1]);

            return self::decode($apart[0])->with(['patterns' => array_column(array_map(static fn (Pattern $p): array => [$p->id, $p], $patterns), 1, 0)]);
        }
        $data = json_decode($json, true, 64);
        if (!\is_array($data)) {
            throw new InvalidChange('This is not a beat: the JSON cannot be read.');
        }
        $format = $data['format'] ?? null;
        if (!\is_int($format) || $format < 1 || $format > self::FORMAT) {
            throw new InvalidChange(\sprintf('This beat has format %s; this version of Pestle reads formats 1 to %d.', \is_int($format) ? (string) $format : 'unknown', self::FORMAT));
        }

        return self::read(new Fields(OlderFormats::raised($data, $format)));
    }

    /** @throws InvalidChange */
    private static function pattern(string $json): Pattern
    {
        $data = json_decode($json, true, 64);

        return PatternCodec::read(new Fields(\is_array($data) ? $data : []));
    }

    public static function json(mixed $value): string
    {
        return json_encode($value, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_PRESERVE_ZERO_FRACTION);
    }

    /** @return array<string, mixed> */
    public static function toArray(Beat $beat): array
    {
        return [
            'format' => self::FORMAT,
            'name' => $beat->name,
            'tempo' => $beat->tempo->bpm,
            'meter' => $beat->meter->name(),
            'key' => $beat->key?->name(),
            'seed' => $beat->seed,
            'rules' => $beat->rules->value,
            'parts' => array_map(static fn (Part $p): array => $p->toArray(), array_values($beat->parts)),
            'kit' => KitCodec::toArray($beat->kit),
            'patterns' => array_map(static fn (Pattern $p): array => PatternCodec::toArray($p), array_values($beat->patterns)),
            'sections' => array_map(static fn (Section $s): array => $s->toArray(), array_values($beat->sections)),
            'song' => array_map(static fn (Entry $e): array => $e->toArray(), array_values($beat->song)),
            'tracks' => array_map(static fn (Track $t): array => $t->toArray(), array_values($beat->tracks)),
            'clips' => array_map(static fn (Clip $c): array => $c->toArray(), array_values($beat->clips)),
            'markers' => array_map(static fn (Marker $m): array => $m->toArray(), array_values($beat->markers)),
            'movements' => array_map(SongCodec::movementToArray(...), array_values($beat->movements->all)),
            'mixer' => MixerCodec::toArray($beat->mixer),
            'slices' => array_map(static fn (string $hash, Slices $s): array => ['sample' => $hash, ...$s->toArray()], array_keys($beat->slices), array_values($beat->slices)),
            'edits' => array_map(static fn (string $hash, Edits $e): array => ['sample' => $hash, 'list' => $e->toArray()], array_keys($beat->edits), array_values($beat->edits)),
            'sliceSets' => self::sliceSets($beat),
            'grooves' => array_map(static fn (Groove $g): array => $g->toArray(), array_values($beat->grooves)),
            'snapshots' => array_map(static fn (Snapshot $s): array => ['id' => $s->id, 'name' => $s->name, 'mixer' => MixerCodec::toArray($s->mixer), 'movements' => array_map(SongCodec::movementToArray(...), array_values($s->movements->all))], array_values($beat->snapshots)),
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function sliceSets(Beat $beat): array
    {
        $rows = [];
        foreach ($beat->sliceSets as $hash => $sets) {
            foreach ($sets as $name => $slices) {
                $rows[] = ['sample' => $hash, 'name' => (string) $name, ...$slices->toArray()];
            }
        }

        return $rows;
    }

    /** @throws InvalidChange */
    private static function read(Fields $f): Beat
    {
        $parts = $patterns = $sections = $song = $slices = $edits = $sets = $movements = $grooves = $snapshots = [];
        foreach ($f->rows('parts', Part::MOST) as $row) {
            $part = SongCodec::part($row);
            $parts[$part->id] = $part;
        }
        if ([] === $parts) {
            throw InvalidChange::field('parts', 'must hold at least one part.');
        }
        foreach ($f->rows('patterns', Beat::MAX_PATTERNS) as $row) {
            $pattern = PatternCodec::read($row);
            $patterns[$pattern->id] = $pattern;
        }
        foreach ($f->rows('sections', Section::MOST) as $row) {
            $section = SongCodec::section($row);
            $sections[$section->id] = $section;
        }
        foreach ($f->rows('song', Beat::MAX_SONG) as $row) {
            $entry = SongCodec::entry($row);
            $song[$entry->id] = $entry;
        }
        foreach ($f->rows('slices', 5000) as $row) {
            $slices[$row->hash('sample')] = SliceFields::read($row);
        }
        foreach ($f->rows('edits', 5000) as $row) {
            $edits[$row->hash('sample')] = EditFields::read($row, 'list');
        }
        foreach ($f->rows('sliceSets', 5000) as $row) {
            $sets[$row->hash('sample')][$row->text('name', 40)] = SliceFields::read($row);
        }
        foreach ($f->rows('grooves', Beat::MAX_GROOVES) as $row) {
            $groove = PatternCodec::groove($row);
            $grooves[$groove->id] = $groove;
        }
        foreach ($f->rows('snapshots', Snapshot::MOST) as $row) {
            $snapshots[$row->id('id')] = new Snapshot($row->id('id'), $row->text('name'), MixerCodec::read($row->nested('mixer')), Movements::of(...array_map(SongCodec::movement(...), $row->rows('movements', Movements::MOST))));
        }
        foreach ($f->rows('movements', Movements::MOST) as $row) {
            $movements[] = SongCodec::movement($row);
        }

        [$tracks, $clips, $markers] = [array_column(array_map(SongCodec::track(...), $f->rows('tracks', Track::MOST)), null, 'id'), array_column(array_map(SongCodec::clip(...), $f->rows('clips', Clip::MOST)), null, 'id'), array_column(array_map(SongCodec::marker(...), $f->rows('markers', Marker::MOST)), null, 'id')];
        foreach ($clips as $clip) {
            isset($tracks[$clip->track]) || throw new InvalidChange(\sprintf('%s lies on the track %s, which is not in the beat.', $clip->name, $clip->track));
        }

        return new Beat(
            $f->text('name'),
            Tempo::bpm($f->number('tempo', Tempo::MIN, Tempo::MAX)),
            $f->meter('meter'),
            $f->has('key') ? Key::named($f->text('key')) : null,
            $parts,
            KitCodec::read($f->nested('kit')),
            $patterns,
            $sections,
            $song,
            MixerCodec::read($f->nested('mixer')),
            $slices,
            $f->whole('seed', 0, 1 << 53),
            $edits,
            $sets,
            Movements::of(...$movements),
            $grooves,
            $snapshots,
            SoundRules::tryFrom($f->whole('rules', 1, SoundRules::NEWEST->value)) ?? throw InvalidChange::field('rules', 'must name rules that are known.'),
            $tracks,
            $clips,
            $markers,
        );
    }
}
