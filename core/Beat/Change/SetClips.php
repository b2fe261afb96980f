<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Clip;

/** Moves clips, onto other tracks as well, crops them, or names them: each row says what of a clip is set. */
final readonly class SetClips implements Change
{
    private const LABELS = ['at' => 'Move', 'track' => 'Move', 'from' => 'Crop', 'to' => 'Crop', 'name' => 'Name of'];

    /** @param non-empty-array<string, non-empty-array<string, int|string>> $clips what is set, by clip */
    private function __construct(private array $clips)
    {
    }

    public static function from(Fields $fields): self
    {
        $clips = [];
        foreach ($fields->rows('clips', Clip::MOST) as $row) {
            $set = [];
            foreach (array_intersect($row->keys(), array_keys(self::LABELS)) as $field) {
                $set[$field] = match ($field) {
                    'at' => SongCodec::tick($row, 'at'),
                    'track' => $row->id('track'),
                    'name' => $row->text('name'),
                    default => $row->frame($field),
                };
            }
            if ([] === $set) {
                throw InvalidChange::field('clips', 'must say of each what is set: at, track, from, to or name.');
            }
            $clips[$row->id('id')] = $set;
        }

        return new self([] === $clips ? throw InvalidChange::field('clips', 'must name at least one clip.') : $clips);
    }

    public function apply(Beat $beat): Beat
    {
        foreach ($this->clips as $id => $set) {
            if (isset($set['track'])) {
                $beat->track((string) $set['track']);
            }
            $beat = $beat->withClips($beat->clip((string) $id)->with($set));
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        $fields = array_keys(array_replace(...array_values($this->clips)));
        // What is cropped at its start begins later as well.
        $first = array_values(array_intersect(['name', 'from', 'to', 'track', 'at'], $fields))[0];

        return self::LABELS[$first].' '.(\count($this->clips) > 1 ? \count($this->clips).' clips' : $beat->clip((string) array_key_first($this->clips))->name);
    }

    public function touches(): array
    {
        return array_map(static fn (string $id): string => 'clip/'.$id, array_map(strval(...), array_keys($this->clips)));
    }
}
