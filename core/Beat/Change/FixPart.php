<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Track;

/**
 * A part is fixed as sound in one coming of a section: what was caught of it lies on tracks that feed the channels it
 * played through, and the part is silent there.
 */
final readonly class FixPart implements Change
{
    private const MOST = 64;

    /** @param non-empty-list<array{string, string, int, int, int}> $sounds channel, sample, its rate, and from which of its frames to which */
    private function __construct(private string $entry, private string $part, private int $at, private array $sounds)
    {
    }

    public static function from(Fields $fields): self
    {
        $sounds = array_map(static function (Fields $row): array {
            $from = $row->has('from') ? $row->frame('from', 0) : 0;

            return [$row->id('channel'), $row->hash('sample'), $row->whole('rate', 1000, 768_000), $from, $row->frame('frames', $from + 1)];
        }, $fields->rows('sounds', self::MOST));

        return new self($fields->id('entry'), $fields->id('part'), SongCodec::tick($fields, 'at'), [] === $sounds ? throw InvalidChange::field('sounds', 'must name at least one sound.') : $sounds);
    }

    public function apply(Beat $beat): Beat
    {
        $entry = $beat->entry($this->entry);
        $part = $beat->part($this->part);
        if (\in_array($part->id, $entry->fixed, true)) {
            throw new InvalidChange(\sprintf('%s is fixed there already.', $part->name));
        }
        $section = $beat->section($entry->section)->name;
        foreach ($this->sounds as [$channel, $sample, $rate, $from, $to]) {
            $line = $beat->mixer->nodes[$channel] ?? null;
            if (NodeKind::Channel !== $line?->kind) {
                throw InvalidChange::field('channel', 'must name a channel of the mixer.');
            }
            $name = \count($this->sounds) > 1 ? $line->name : $part->name;
            // All that is fixed of one channel lies on one track.
            $fixed = array_filter($beat->clips, static fn (Clip $c): bool => '' !== $c->fixed);
            $track = array_values(array_filter($beat->tracks, static fn (Track $t): bool => $t->channel === $channel && \in_array($t->id, array_column($fixed, 'track'), true)))[0] ?? new Track($beat->nextTrackId(), mb_substr($name, 0, 70).', fixed', $channel);
            $beat = $beat->with(['tracks' => array_replace($beat->tracks, [$track->id => $track])])
                ->withClips(new Clip($beat->nextClipId(), $track->id, mb_substr($name.' in '.$section, 0, 80), $sample, $rate, $this->at, $from, $to, fixed: $entry->id.'/'.$part->id));
        }

        return $beat->withEntry($entry->with(['fixed' => [...$entry->fixed, $part->id]]));
    }

    public function label(Beat $beat): string
    {
        return \sprintf('%s in %s fixed as sound', $beat->part($this->part)->name, $beat->section($beat->entry($this->entry)->section)->name);
    }

    public function touches(): array
    {
        return ['song/'.$this->entry, 'clip', 'track'];
    }
}
