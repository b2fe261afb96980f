<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Sample;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\BeatGrid;
use Pestle\Core\Theory\Key;

/** The maker's library: what is known and said about samples, where they are used, and what nobody uses. */
final readonly class Library
{
    private const MOST_TAGS = 12;

    public function __construct(private SampleStore $samples, private Beats $beats, private EntityManagerInterface $entities)
    {
    }

    public function find(string $hash): ?Sample
    {
        return $this->samples->find($hash);
    }

    /**
     * @return array<string, mixed> what was there before, in the same form
     *
     * @throws InvalidChange
     */
    public function describe(Sample $sample, Fields $fields): array
    {
        $before = [];
        foreach ($fields->keys() as $field) {
            $before[$field] = match ($field) {
                'name' => $sample->name,
                'tags' => implode(', ', $sample->tags),
                'favourite' => $sample->favourite,
                'kind', 'bpm', 'key', 'note', 'role', 'downbeat', 'grid' => $sample->corrected($field),
                default => throw InvalidChange::field($field, 'is nothing that can be said about a sample.'),
            };
        }
        if ($sample->isCorrected('grid') && [] !== array_intersect(['bpm', 'downbeat'], $fields->keys())) {
            // What takes a grid's place gives it back.
            $before['grid'] = $sample->corrected('grid');
        }
        foreach ($fields->keys() as $field) {
            match ($field) {
                'name' => $sample->name = $fields->text('name', 70),
                'tags' => $sample->tags = self::tags($fields),
                'favourite' => $sample->favourite = $fields->flag('favourite'),
                default => $sample->correct($field, $fields->has($field) ? self::correction($field, $fields) : null),
            };
        }
        $this->entities->flush();

        return $before;
    }

    /** @return array<string, list<Sample>> for each sample, by its hash, others that sound just the same */
    public function twins(): array
    {
        $same = [];
        foreach ($this->samples->all() as $sample) {
            $same[$sample->fingerprint() ?? $sample->hash][] = $sample;
        }
        $twins = [];
        foreach ($same as $group) {
            foreach (\count($group) > 1 ? $group : [] as $sample) {
                $twins[$sample->hash] = array_values(array_filter($group, static fn (Sample $s): bool => $s !== $sample));
            }
        }

        return $twins;
    }

    /** @return list<Sample> what no beat uses, in none of its kept revisions, and no kit on the shelf */
    public function unused(): array
    {
        $used = $this->beats->samplesInHistory();

        return array_values(array_filter($this->samples->all(), static fn (Sample $s): bool => !isset($used[$s->hash])));
    }

    /**
     * Takes what no beat uses out of sight. Its files stay until restoring is out of the question.
     *
     * @return list<Sample>
     */
    public function clearOut(): array
    {
        $unused = $this->unused();
        foreach ($unused as $sample) {
            $sample->clearedAt = new \DateTimeImmutable();
        }
        $this->entities->flush();

        return $unused;
    }

    /** @param list<string> $hashes */
    public function restore(array $hashes): int
    {
        $count = 0;
        foreach ($hashes as $hash) {
            $sample = $this->find($hash);
            if (null !== $sample?->clearedAt) {
                $sample->clearedAt = null;
                ++$count;
            }
        }
        $this->entities->flush();

        return $count;
    }

    /** @param list<Sample> $samples */
    public function bytes(array $samples): int
    {
        return array_sum(array_map(fn (Sample $s): int => (int) @filesize($this->samples->library()->path($s->hash)), $samples));
    }

    /** @return list<string> */
    private static function tags(Fields $fields): array
    {
        if (!$fields->has('tags')) {
            return [];
        }
        $tags = array_map(static fn (string $t): string => mb_strtolower(trim($t)), explode(',', $fields->text('tags', 300)));

        return \array_slice(array_values(array_unique(array_filter($tags, static fn (string $t): bool => '' !== $t && mb_strlen($t) <= 30))), 0, self::MOST_TAGS);
    }

    private static function correction(string $field, Fields $fields): string|float
    {
        return match ($field) {
            'bpm' => $fields->number('bpm', 20, 400),
            'note' => $fields->number('note', 0, 127),
            'downbeat' => $fields->number('downbeat', -10, 36000),
            'grid' => self::grid($fields->text('grid', 16000)),
            'role' => $fields->choice('role', Role::class)->value,
            'key' => self::key($fields->text('key')),
            default => \in_array($kind = $fields->text('kind'), ['one-shot', 'loop', 'song'], true) ? $kind : throw InvalidChange::field('kind', 'must be one of: one-shot, loop, song.'),
        };
    }

    private static function grid(string $json): string
    {
        try {
            return BeatGrid::decode($json)->encode();
        } catch (\InvalidArgumentException $e) {
            throw InvalidChange::field('grid', 'must be a beat grid. '.$e->getMessage());
        }
    }

    private static function key(string $name): string
    {
        try {
            return Key::named($name)->name();
        } catch (\InvalidArgumentException $e) {
            throw InvalidChange::field('key', 'must be a key. '.$e->getMessage());
        }
    }
}
