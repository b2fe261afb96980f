<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;

/**
 * Where the hits of a part go when another kit comes under it, with what is felt apart on their lanes. A pad's hits find
 * their sound at their place where that has the same role, else on the first pad of that role that nobody else has found:
 * no two lanes become one, so no two hits do. What finds none goes to a place without a sound, where it is kept and silent.
 */
final readonly class HitMapping
{
    /** @param array<string, string> $places by pad, where its hits are from now on */
    private function __construct(private array $places)
    {
    }

    /**
     * @param list<string>       $lanes pads that have hits, whether a sound lies there or not
     * @param array<string, Pad> $old   the kit that was there
     * @param array<string, Pad> $new   the kit that is there now
     *
     * @return array<string, string> by lane, the pad on which its hits find their sound
     */
    private static function found(array $lanes, array $old, array $new): array
    {
        $places = [];
        $alike = static fn (string $lane, Pad $pad): bool => isset($old[$lane]) && $old[$lane]->role === $pad->role;
        foreach ($lanes as $lane) {
            if (isset($new[$lane]) && $alike($lane, $new[$lane])) {
                $places[$lane] = $lane;
            }
        }
        foreach (array_diff($lanes, array_keys($places)) as $lane) {
            $partners = array_filter($new, static fn (Pad $pad): bool => $alike($lane, $pad) && !\in_array($pad->id, $places, true));
            if ([] !== $partners) {
                $places[$lane] = (string) array_key_first($partners);
            }
        }

        return $places;
    }

    /**
     * @param list<string> $lost lanes that find no sound
     * @param list<string> $free places without a sound, as many at least
     *
     * @return array<string, string> by lane, where it is kept; who can stay does, so that the kit that was there finds its hits again
     */
    private static function kept(array $lost, array $free): array
    {
        $stay = array_values(array_intersect($lost, $free));
        $go = array_values(array_diff($lost, $stay));

        return [...array_combine($stay, $stay), ...array_combine($go, \array_slice(array_values(array_diff($free, $stay)), 0, \count($go)))];
    }

    /** @return list<string> pads on which a part has hits, or that are felt apart, in any of its patterns */
    public static function lanes(Beat $beat, string $part): array
    {
        $lanes = [];
        foreach ($beat->patterns as $pattern) {
            if ($pattern->part === $part) {
                $lanes += array_fill_keys([...array_column($pattern->hits, 'pad'), ...array_map(strval(...), array_keys($pattern->lanes))], true);
            }
        }

        return array_map(strval(...), array_keys($lanes));
    }

    /** The beat with the hits of a part where its kit, of which these pads were there before, has their sounds. */
    public static function follow(Beat $beat, string $part, Kit $before): Beat
    {
        [$beat, $places] = self::between($beat, $part, $before);
        $mapping = new self($places);
        foreach ($beat->patterns as $pattern) {
            $beat = $pattern->part === $part ? $beat->withPattern($mapping->of($pattern)) : $beat;
        }

        return $beat;
    }

    /** @return array{Beat, array<string, string>} the beat with places for all lanes of a part whose kit was another one before, and the place of each */
    public static function between(Beat $beat, string $part, Kit $before): array
    {
        $of = static fn (Kit $kit): array => array_filter($kit->pads, static fn (Pad $pad): bool => $kit->partOf($pad->id) === $part);
        $lanes = self::lanes($beat, $part);
        $found = self::found($lanes, $of($before), $of($beat->kit));
        $lost = array_values(array_diff($lanes, array_keys($found)));
        while (\count($free = self::free($beat->kit, $part)) < \count($lost)) {
            $bank = $beat->kit->nextBankId() ?? throw new InvalidChange('No bank is left for hits that find no sound in the other kit: delete a part first.');
            $beat = $beat->withKit($beat->kit->withBank(new Bank($bank, 'Without a sound', $part)));
        }

        return [$beat, [...$found, ...self::kept($lost, $free)]];
    }

    /** @return list<string> places of a part's banks on which no sound lies */
    private static function free(Kit $kit, string $part): array
    {
        $places = array_merge(...array_map(static fn (Bank $bank): array => $bank->padIds(), $kit->banksOf($part)));

        return array_values(array_filter($places, static fn (string $id): bool => null === $kit->pad($id)));
    }

    private function of(Pattern $pattern): Pattern
    {
        $lanes = [];
        foreach ($pattern->lanes as $pad => $lane) {
            $lanes[$this->places[$pad] ?? $pad] = $lane;
        }

        return $pattern->with(['hits' => array_map(fn (Hit $hit): Hit => $hit->on($this->places[$hit->pad] ?? $hit->pad), $pattern->hits), 'lanes' => $lanes]);
    }
}
