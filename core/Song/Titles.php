<?php

namespace Pestle\Core\Song;

/** Names for what is new, worth keeping until a better one comes: two words, of the street the stall stands in or of the maker's own sounds. */
final class Titles
{
    private const FIRST = ['Lantern', 'Copper', 'Tin', 'Paper', 'Night', 'Clay', 'Ladle', 'Awning', 'Gutter', 'Mortar', 'Cellar', 'Window', 'Ember', 'Corner', 'Ferry', 'Alley'];
    private const SECOND = ['Steam', 'Street', 'Roof', 'Bell', 'Line', 'Hour', 'Market', 'Smoke', 'Light', 'Water', 'Step', 'Kettle', 'Shutter', 'Rain', 'Wire', 'Song'];
    private const SECTIONS = ['Opening', 'First', 'Lifted', 'Break', 'Return', 'Turn', 'Ending'];
    private const WAYS = ['alone', 'again', 'lifted', 'far off', 'turned', 'slow'];

    /** @param list<string> $taken names that others have */
    public static function beat(array $taken, int $seed): string
    {
        $count = \count(self::FIRST);
        for ($n = 0; $n < $count ** 2; ++$n) {
            // Seven has no factor in common with the count, so all come in turn.
            $name = self::FIRST[($seed + 7 * $n) % $count].' '.self::SECOND[(intdiv($seed, $count) + intdiv($n, $count) + 3 * $n) % $count];
            if (!\in_array($name, $taken, true)) {
                return $name;
            }
        }

        return 'Beat '.(1 + \count($taken));
    }

    /**
     * @param list<string> $taken  names that other sections have
     * @param list<string> $sounds names of the beat's own sounds
     */
    public static function section(array $taken, array $sounds): string
    {
        $names = self::SECTIONS;
        foreach (self::WAYS as $way) {
            foreach ($sounds as $sound) {
                $names[] = mb_substr($sound, 0, 60).' '.$way;
            }
        }

        return array_values(array_diff($names, $taken))[0] ?? 'Section '.(1 + \count($taken));
    }
}
