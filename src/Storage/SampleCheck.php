<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Sample\Edits;

/** Whether what a change puts into a beat is in the library and lies within its samples: the core knows samples by name only. */
final readonly class SampleCheck
{
    public function __construct(private Connection $database)
    {
    }

    /** @throws InvalidChange */
    public function changed(Beat $before, Beat $after): void
    {
        $known = self::sounds($before);
        $sounds = array_filter(self::sounds($after), static fn (string $place): bool => !isset($known[$place]), \ARRAY_FILTER_USE_KEY);
        $edits = array_filter($after->edits, static fn (Edits $e, string $hash): bool => ($before->edits[$hash] ?? null) != $e, \ARRAY_FILTER_USE_BOTH);
        $slices = array_filter($after->slices, static fn ($s, string $hash): bool => ($before->slices[$hash] ?? null) != $s, \ARRAY_FILTER_USE_BOTH);
        $hashes = [...array_keys($edits), ...array_keys($slices)];
        array_push($hashes, ...array_column(array_values($sounds), 0));
        if ([] === $hashes) {
            return;
        }
        $lengths = $this->lengths(array_values(array_unique($hashes)));
        $length = static fn (string $hash, string $what): int => ($after->edits[$hash] ?? new Edits())->length(
            $lengths[$hash] ?? throw new InvalidChange(\sprintf('%s: this sample is not in the library. Bring it in again.', $what)),
        );
        foreach ($edits as $hash => $list) {
            $length($hash, 'Edits');
            $followed = $list->followedFrames();
            if (null !== $followed && $followed !== $lengths[$hash]) {
                throw InvalidChange::field('frames', \sprintf('must be those of the sample: %d.', $lengths[$hash]));
            }
        }
        foreach ($slices as $hash => $cut) {
            if ([] !== $cut->markers && max($cut->markers) >= $length($hash, 'Slices')) {
                throw InvalidChange::field('markers', 'must lie within the sample.');
            }
        }
        foreach ($sounds as [$sample, $end, $name]) {
            if ($end > $frames = $length($sample, $name)) {
                throw InvalidChange::field('end', \sprintf('must lie within the sample of %s, which has %s frames.', $name, number_format($frames)));
            }
        }
    }

    /** @return array<string, array{string, int, string}> what pads, keys and clips play, by sample and place: sample, end and name; their other settings need no second look */
    private static function sounds(Beat $beat): array
    {
        $sounds = [];
        foreach ($beat->kit->pads as $pad) {
            foreach ($pad->layers as $sound) {
                $sounds[\sprintf('%s %d %d', $sound->sample, $sound->start, $sound->end)] = [$sound->sample, $sound->end, $sound->name];
            }
        }
        foreach ($beat->parts as $part) {
            if (null !== $keys = $part->keys) {
                foreach ($keys->sounds() as $sound) {
                    $sounds[\sprintf('%s %d %d', $sound->sample, $sound->start, $sound->end)] = [$sound->sample, $sound->end, $part->name];
                }
            }
        }

        foreach ($beat->clips as $clip) {
            $sounds[\sprintf('%s %d %d', $clip->sample, $clip->from, $clip->to)] = [$clip->sample, $clip->to, $clip->name];
        }

        return $sounds;
    }

    /**
     * @param list<string> $hashes
     *
     * @return array<string, int>
     */
    private function lengths(array $hashes): array
    {
        /** @var array<string, int|string> $rows */
        $rows = $this->database->fetchAllKeyValue('SELECT hash, frames FROM sample WHERE hash IN (?)', [$hashes], [ArrayParameterType::STRING]);

        return array_map(intval(...), $rows);
    }
}
