<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Entry;

/**
 * Sets which sections follow one another: by entries of the song, each with its section, so that what is repeated or mute
 * in one stays so wherever it goes; or by sections alone, which take the entries there are of them, in their order.
 */
final readonly class SetSong implements Change
{
    /** @param list<array{string|null, string}> $entries id, or null for the next there is, and section */
    private function __construct(private array $entries)
    {
    }

    public static function from(Fields $fields): self
    {
        if (!$fields->has('entries')) {
            return new self(array_map(static fn (string $section): array => [null, $section], $fields->ids('sections', Beat::MAX_SONG)));
        }
        $entries = array_map(static fn (Fields $row): array => [$row->id('0'), $row->id('1')], $fields->rows('entries', Beat::MAX_SONG));
        if (\count(array_unique(array_column($entries, 0))) < \count($entries)) {
            throw InvalidChange::field('entries', 'must name each entry once.');
        }

        return new self($entries);
    }

    public function apply(Beat $beat): Beat
    {
        $free = array_diff_key($beat->song, array_flip(array_filter(array_column($this->entries, 0), is_string(...))));
        $song = [];
        foreach ($this->entries as [$id, $section]) {
            $beat->section($section);
            $entry = null === $id ? array_values(array_filter($free, static fn (Entry $e): bool => $e->section === $section))[0] ?? null : $beat->song[$id] ?? null;
            $entry ??= new Entry($id ?? self::unused($beat, $song), $section);
            if ($entry->section !== $section) {
                throw InvalidChange::field('entries', \sprintf('holds %s, which is a coming of another section: give what is new an id of its own.', $entry->id));
            }
            unset($free[$entry->id]);
            $song[$entry->id] = $entry;
        }

        return $beat->with(['song' => $song]);
    }

    /** @param array<string, Entry> $song as far as it is known */
    private static function unused(Beat $beat, array $song): string
    {
        return $beat->with(['song' => array_replace($beat->song, $song)])->nextEntryId();
    }

    public function label(Beat $beat): string
    {
        return 'Order of sections';
    }

    public function touches(): array
    {
        return ['song'];
    }
}
