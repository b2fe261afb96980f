<?php

namespace Pestle\Core\Exchange\Carried;

use Pestle\Core\Analysis\HitKind;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\Material;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Meter;

/** What was heard in a recording, as it comes from elsewhere: every fact is looked at before it is believed. */
final class Facts
{
    private const MOST_BEATS = 200_000;
    private const MOST_HITS = 4000;
    private const BPM = [1.0, 2000.0];
    private const SURE = ['roleSure', 'bpmSure', 'meterSure', 'keySure', 'noteSure'];

    /**
     * @return array<string, mixed> as listening gives them, places in frames
     *
     * @throws InvalidChange that names the fact
     */
    public static function read(Fields $facts, int $frames): array
    {
        $number = static fn (string $name, float $least, float $most): ?float => $facts->has($name) ? $facts->number($name, $least, $most) : null;
        $sure = [];
        foreach (self::SURE as $name) {
            $sure[$name] = $facts->number($name, 0, 1);
        }

        return [
            'version' => $facts->whole('version', 1, 1_000_000),
            'sound' => $facts->hash('sound'),
            'kind' => self::oneOf($facts, 'kind', ['one-shot', 'loop', 'song']),
            'role' => $facts->has('role') ? $facts->choice('role', Role::class)->value : null,
            'material' => $facts->choice('material', Material::class)->value,
            'lufs' => $number('lufs', -200, 60),
            'truePeak' => $number('truePeak', -400, 60),
            'bpm' => $number('bpm', ...self::BPM),
            'otherBpm' => $facts->numbers('otherBpm', 8, ...self::BPM),
            'bars' => $facts->has('bars') ? $facts->whole('bars', 1, 100_000) : null,
            'meter' => $facts->has('meter') ? self::oneOf($facts, 'meter', Meter::OF_RECORDINGS) : null,
            'beats' => $facts->wholes('beats', self::MOST_BEATS, $frames),
            'downbeat' => $facts->whole('downbeat', -$frames, $frames),
            'steady' => $facts->flag('steady'),
            'key' => $facts->has('key') ? self::key($facts) : null,
            'tuning' => $facts->number('tuning', -100, 100),
            'notes' => $facts->wholes('notes', 12, 11),
            'note' => $number('note', 0, 140),
            'hits' => array_map(static fn (mixed $row): array => self::hit($row, $frames), $facts->items('hits', self::MOST_HITS)),
            ...$sure,
        ];
    }

    /** @return array{int, string, float, float} frame, kind, how sure, level */
    private static function hit(mixed $row, int $frames): array
    {
        $hit = new Fields(\is_array($row) && 4 === \count($row) ? array_combine(['frame', 'kind', 'sure', 'level'], array_values($row)) : []);

        return [$hit->whole('frame', 0, $frames), $hit->choice('kind', HitKind::class)->value, $hit->number('sure', 0, 1), $hit->number('level', 0, 100)];
    }

    /** @param list<string> $choices */
    private static function oneOf(Fields $facts, string $name, array $choices): string
    {
        $value = $facts->text($name);

        return \in_array($value, $choices, true) ? $value : throw InvalidChange::field($name, 'must be one of: '.implode(', ', $choices).'.');
    }

    private static function key(Fields $facts): string
    {
        try {
            return Key::named($facts->text('key'))->name();
        } catch (\InvalidArgumentException) {
            throw InvalidChange::field('key', 'must be a key.');
        }
    }
}
