<?php

namespace Pestle\Core\Exchange\Midi;

use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;

/**
 * Keys of percussion and the roles of pads, both ways.
 * Source: MIDI Manufacturers Association, "General MIDI System Level 1", percussion key map.
 */
final class DrumKeys
{
    private const KEYS = [
        'kick' => [36, 35], 'snare' => [38, 40, 37], 'clap' => [39], 'hat' => [42, 44], 'open-hat' => [46], 'tom' => [45, 48, 41, 50, 43, 47], 'cymbal' => [49, 51, 57, 53, 55, 59, 52],
        'percussion' => [56, 54, 75, 70, 69, 76, 77, 60, 61, 62, 63, 64, 65, 66, 67, 68, 71, 72, 73, 74, 78, 79, 80, 81, 58],
    ];

    /** Whether a pad goes out as a key of percussion: others are sounds of their own. */
    public static function isDrum(Pad $pad): bool
    {
        return isset(self::KEYS[$pad->role->value]);
    }

    public static function role(int $key): Role
    {
        foreach (self::KEYS as $role => $keys) {
            if (\in_array($key, $keys, true)) {
                return Role::from($role);
            }
        }

        return Role::Percussion;
    }

    /**
     * @param list<Pad> $pads
     *
     * @return array<string, int> a key of its own for every pad, by id
     */
    public static function of(array $pads): array
    {
        $taken = $keys = [];
        foreach ($pads as $pad) {
            foreach ([...self::KEYS[$pad->role->value] ?? [], ...range(82, 127), ...range(34, 0)] as $key) {
                if (!isset($taken[$key])) {
                    $taken[$key] = true;
                    $keys[$pad->id] = $key;
                    break;
                }
            }
        }

        return $keys;
    }

    /**
     * Which pad plays which key: one of its role, each key another one as far as there are enough, or one that comes near.
     *
     * @param list<int> $keys
     * @param list<Pad> $pads
     *
     * @return array<int, string> pads by key; those that nothing could play are missing
     */
    public static function onto(array $keys, array $pads): array
    {
        $byRole = $found = $used = [];
        foreach ($pads as $pad) {
            $byRole[$pad->role->value][] = $pad->id;
        }
        // The usual key of a role takes its first pad.
        usort($keys, static fn (int $a, int $b): int => self::rank($a) <=> self::rank($b) ?: $a <=> $b);
        foreach ($keys as $key) {
            $role = self::role($key);
            foreach ([$role, ...$role->instead()] as $could) {
                $own = $byRole[$could->value] ?? [];
                if ([] !== $own) {
                    $found[$key] = $own[min(\count($own) - 1, $used[$could->value] ?? 0)];
                    $used[$could->value] = ($used[$could->value] ?? 0) + 1;
                    break;
                }
            }
        }

        return $found;
    }

    private static function rank(int $key): int
    {
        $place = array_search($key, self::KEYS[self::role($key)->value] ?? [], true);

        return \is_int($place) ? $place : 99;
    }
}
