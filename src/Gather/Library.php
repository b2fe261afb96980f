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
use Pestle\Core\Theory\Meter;

/** The maker's library: what is known and said about samples, where they are used, and what nobody uses. */
final readonly class Library
{
    /** Sounds that are shown at first, and further ones with each press or scroll. */
    public const AT_ONCE = 36;

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
                'kind', 'bpm', 'meter', 'key', 'note', 'role', 'downbeat', 'grid' => $sample->corrected($field),
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
                'tags' => $sample->tags = Tags::read($fields->has('tags') ? mb_strtolower($fields->text('tags', 400)) : ''),
                'favourite' => $sample->favourite = $fields->flag('favourite'),
                default => $sample->correct($field, $fields->has($field) ? self::correction($field, $fields) : null),
            };
        }
        $this->entities->flush();

        return $before;
    }

    /**
     * @return array{list<Sample>, int} the first of those that are looked for, and how many there are
     */
    public function found(LibrarySearch $search, int $most): array
    {
        [$where, $values] = $search->where();
        $database = $this->entities->getConnection();
        $samples = $this->samples->inOrder("$where ORDER BY {$search->order()} LIMIT $most", $values);
        $count = \count($samples) < $most ? \count($samples) : $database->fetchOne("SELECT COUNT(*) FROM sample WHERE $where", $values);

        return [$samples, is_numeric($count) ? (int) $count : 0];
    }

    /** @return list<Sample> others that sound just the same */
    public function twinsOf(Sample $sample): array
    {
        return null === $sample->fingerprint() ? [] : array_values(array_filter($this->entities->getRepository(Sample::class)->findBy(['print' => $sample->fingerprint(), 'clearedAt' => null], ['name' => 'ASC'], 20), static fn (Sample $s): bool => $s !== $sample));
    }

    /** How many no beat uses, in none of its kept revisions, and no kit on the shelf. */
    public function unusedCount(): int
    {
        $count = $this->entities->getConnection()->fetchOne('SELECT COUNT(*) FROM sample WHERE cleared_at IS NULL AND '.LibrarySearch::unused());

        return is_numeric($count) ? (int) $count : 0;
    }

    /** @return list<Sample> */
    private function unused(): array
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

    private static function correction(string $field, Fields $fields): string|float
    {
        return match ($field) {
            'bpm' => $fields->number('bpm', 20, 400),
            'note' => $fields->number('note', 0, 127),
            'downbeat' => $fields->number('downbeat', -10, 36000),
            'grid' => self::grid($fields->text('grid', 16000)),
            'role' => $fields->choice('role', Role::class)->value,
            'meter' => self::meter($fields->text('meter')),
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

    private static function meter(string $name): string
    {
        try {
            return \in_array($name, Meter::OF_RECORDINGS, true) ? $name : throw new \InvalidArgumentException('It is one of: '.implode(', ', Meter::OF_RECORDINGS).'.');
        } catch (\InvalidArgumentException $e) {
            throw InvalidChange::field('meter', 'must be a meter. '.$e->getMessage());
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
