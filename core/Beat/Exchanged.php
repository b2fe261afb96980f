<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Beat\Change\ExchangeKit;
use Pestle\Core\Kit\Keys;

/** What becomes of each sound of a part when it is played on what another part is: told before it is done. */
final readonly class Exchanged
{
    /**
     * @param int|string      $was    pad, or pitch
     * @param int             $count  hits or notes of the part's patterns
     * @param int|string|null $on     pad, or pitch, where they are then
     * @param bool            $sounds whether something answers there; else they are kept, silent and marked
     */
    private function __construct(public int|string $was, public string $called, public int $count, public int|string|null $on, public string $becomes, public bool $sounds)
    {
    }

    /** @return list<self> in order of pads, or from low to high; what has hits or notes */
    public static function told(Beat $beat, string $part, string $from): array
    {
        $change = ExchangeKit::from(new Fields(['part' => $part, 'from' => $from]));
        $after = $change->apply($beat);
        $hits = $notes = [];
        foreach ($beat->patterns as $pattern) {
            foreach ($pattern->part === $part ? $pattern->hits : [] as $hit) {
                $hits[$hit->pad] = ($hits[$hit->pad] ?? 0) + 1;
            }
            foreach ($pattern->part === $part ? $pattern->notes : [] as $note) {
                $notes[$note->pitch] = ($notes[$note->pitch] ?? 0) + 1;
            }
        }
        if (null !== $beat->part($part)->keys) {
            ksort($notes);

            return array_map(static fn (int $pitch, int $count): self => self::ofNote($after, $part, $pitch, $count), array_keys($notes), array_values($notes));
        }
        $before = PlacesAndPitches::places($beat, $part);
        $lanes = array_values(array_intersect(array_map(strval(...), array_keys($before)), array_map(strval(...), array_keys($hits))));
        $places = null === $after->part($part)->keys ? HitMapping::between($change->withSounds($beat), $part, $beat->kit)[1] : [];

        return array_map(static fn (string $lane): self => self::ofLane($beat, $after, $part, $lane, $hits[$lane], $places[$lane] ?? $before[$lane]), $lanes);
    }

    private static function ofLane(Beat $beat, Beat $after, string $part, string $lane, int $count, int|string $on): self
    {
        $called = $beat->kit->pad($lane)->name ?? 'No sound';
        $keys = $after->part($part)->keys;
        if (null === $keys) {
            $pad = $after->kit->pad((string) $on);

            return new self($lane, $called, $count, $on, $pad->name ?? '', null !== $pad);
        }
        $pitch = PlacesAndPitches::pitch((int) $on);

        return new self($lane, $called, $count, $pitch, '', null !== $pitch && self::answers($keys, $pitch));
    }

    private static function ofNote(Beat $after, string $part, int $pitch, int $count): self
    {
        $keys = $after->part($part)->keys;
        if (null !== $keys) {
            return new self($pitch, '', $count, $pitch, '', self::answers($keys, $pitch));
        }
        $pad = array_search(PlacesAndPitches::place($pitch), PlacesAndPitches::places($after, $part), true);
        $sound = $after->kit->pad((string) $pad);

        return new self($pitch, '', $count, (string) $pad, $sound->name ?? '', null !== $sound);
    }

    private static function answers(Keys $keys, int $pitch): bool
    {
        foreach ($keys->all() as $one) {
            if ([] !== $one->answering($pitch, 100) || ([] !== $one->waves && $one->blend->share($pitch, $one->low, $one->high, 100) > 0.0)) {
                return true;
            }
        }

        return false;
    }
}
