<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Sample;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** Many sounds of the library at once: tagged, marked, taken out of it; each such step can be taken back as one. */
final readonly class Chosen
{
    /** Sounds that are chosen at once. */
    public const MOST = 1000;

    public function __construct(private SampleStore $samples, private EntityManagerInterface $entities)
    {
    }

    /** @return list<string> hashes of the first of those that are looked for */
    public function found(LibrarySearch $search): array
    {
        [$where, $values] = $search->where();
        /** @var list<string> $hashes */
        $hashes = $this->entities->getConnection()->fetchFirstColumn(\sprintf('SELECT hash FROM sample WHERE %s ORDER BY %s LIMIT %d', $where, $search->order(), self::MOST), $values);

        return $hashes;
    }

    /** @return list<Sample> in the order in which they are named; what is in the library no more is left out */
    public function of(Fields $fields): array
    {
        $hashes = $fields->texts('samples', self::MOST);
        $samples = $this->samples->named($hashes);

        return array_values(array_filter(array_map(static fn (string $hash): ?Sample => $samples[$hash] ?? null, $hashes)));
    }

    /**
     * Says one thing of all: "add" or "take" a tag, "favourite", "gone"; or what "said" has of each, by its hash: tags,
     * favourite, gone.
     *
     * @return array{before: array{said: array<string, array<string, mixed>>}, stay: int} what was there before, of those that are
     *                                                                                    changed; and how many can't go, as something uses them
     *
     * @throws InvalidChange
     */
    public function say(Fields $fields): array
    {
        $said = $fields->has('said') ? self::each($fields) : $this->forAll($fields);
        $before = [];
        $stay = 0;
        $used = array_filter($said, static fn (array $facts): bool => true === ($facts['gone'] ?? null)) ? $this->used(array_keys($said)) : [];
        foreach ($this->samples->named(array_keys($said)) as $hash => $sample) {
            $facts = $said[$hash];
            if (true === ($facts['gone'] ?? null) && isset($used[$hash])) {
                ++$stay;
                continue;
            }
            $was = array_intersect_key(['tags' => implode(', ', $sample->tags), 'favourite' => $sample->favourite, 'gone' => null !== $sample->clearedAt], $facts);
            if ($was === array_intersect_key($facts, $was)) {
                continue;
            }
            $before[$hash] = $was;
            $sample->tags = isset($facts['tags']) ? Tags::read($facts['tags']) : $sample->tags;
            $sample->favourite = $facts['favourite'] ?? $sample->favourite;
            if (isset($facts['gone'])) {
                $sample->clearedAt = $facts['gone'] ? new \DateTimeImmutable() : null;
            }
        }
        $this->entities->flush();

        return ['before' => ['said' => $before], 'stay' => $stay];
    }

    /** @return array<string, array{tags?: string, favourite?: bool, gone?: bool}> */
    private function forAll(Fields $fields): array
    {
        $add = $fields->has('add') ? Tags::read(mb_strtolower($fields->text('add', 400))) : [];
        $take = $fields->has('take') ? Tags::read(mb_strtolower($fields->text('take', 400))) : [];
        $said = [];
        foreach ($this->of($fields) as $sample) {
            $facts = [];
            if ([] !== $add || [] !== $take) {
                $facts['tags'] = self::together($sample, array_values(array_unique([...array_diff($sample->tags, $take), ...$add])));
            }
            foreach (['favourite', 'gone'] as $flag) {
                if ($fields->has($flag)) {
                    $facts[$flag] = $fields->flag($flag);
                }
            }
            $said[$sample->hash] = [] === $facts ? throw new InvalidChange('Say what to do: add or take a tag, favourite, or gone.') : $facts;
        }

        return $said;
    }

    /** @param list<string> $tags */
    private static function together(Sample $sample, array $tags): string
    {
        try {
            return implode(', ', Tags::read(implode(', ', $tags)));
        } catch (InvalidChange) {
            throw new InvalidChange(\sprintf('%s has as many tags as there can be. Nothing was changed.', $sample->name));
        }
    }

    /** @return array<string, array{tags?: string, favourite?: bool, gone?: bool}> */
    private static function each(Fields $fields): array
    {
        $all = $fields->raw('said');
        if (!\is_array($all) || \count($all) > self::MOST) {
            throw InvalidChange::field('said', \sprintf('must be what is said of at most %d samples.', self::MOST));
        }
        $said = [];
        foreach ($all as $hash => $facts) {
            $facts = new Fields(\is_array($facts) ? $facts : []);
            $of = [];
            if (\in_array('tags', $facts->keys(), true)) {
                $of['tags'] = '' === $facts->raw('tags') ? '' : $facts->text('tags', 400);
            }
            foreach (['favourite', 'gone'] as $flag) {
                if ($facts->has($flag)) {
                    $of[$flag] = $facts->flag($flag);
                }
            }
            $said[(string) $hash] = $of;
        }

        return $said;
    }

    /**
     * @param list<string> $hashes
     *
     * @return array<string, true> those of them that some version of a beat uses, or a kit of the shelf
     */
    private function used(array $hashes): array
    {
        $marks = implode(', ', array_fill(0, \count($hashes), '?'));
        /** @var list<string> $unused */
        $unused = $this->entities->getConnection()->fetchFirstColumn("SELECT hash FROM sample WHERE hash IN ($marks) AND ".LibrarySearch::unused(), $hashes);

        return array_fill_keys(array_diff($hashes, $unused), true);
    }
}
