<?php

namespace Pestle\Core\Pattern;

/** What can be done to all hits of a lane at once. Ticks are of the lane, which goes round. */
enum LaneShape: string
{
    case Fill = 'fill';
    case Earlier = 'earlier';
    case Later = 'later';
    case Reverse = 'reverse';
    case Mirror = 'mirror';
    case Accents = 'accents';
    case Clear = 'clear';

    public function label(): string
    {
        return match ($this) {
            self::Fill => 'Fill',
            self::Earlier => 'A step earlier',
            self::Later => 'A step later',
            self::Reverse => 'Reverse',
            self::Mirror => 'Mirror',
            self::Accents => 'Accents in',
            self::Clear => 'Clear',
        };
    }

    /**
     * @param list<Hit> $hits  of the lane
     * @param int       $ticks after which it goes round
     * @param int       $step  ticks of a step
     * @param int       $every filled, or accented, is every so manieth step
     *
     * @return list<Hit>
     */
    public function of(string $pad, array $hits, int $ticks, int $step, int $every, int $velocity): array
    {
        $round = static fn (int $tick): int => (($tick % $ticks) + $ticks) % $ticks;

        return match ($this) {
            self::Fill => array_map(static fn (int $tick): Hit => new Hit($tick, $pad, $velocity, $step), range(0, $ticks - 1, min($ticks, $step * $every))),
            self::Earlier => array_map(static fn (Hit $h): Hit => $h->later($round($h->tick - $step) - $h->tick), $hits),
            self::Later => array_map(static fn (Hit $h): Hit => $h->later($round($h->tick + $step) - $h->tick), $hits),
            // The last step becomes the first; within its step a hit lies as it did.
            self::Reverse => array_map(static fn (Hit $h): Hit => $h->later(self::turned($h->tick, $ticks, $step) - $h->tick), $hits),
            self::Mirror => array_merge(...array_map(static fn (Hit $h): array => 2 * $h->tick < $ticks ? [$h, $h->later(self::turned($h->tick, $ticks, $step) - $h->tick)] : [], $hits)),
            self::Accents => array_map(static fn (Hit $h): Hit => 0 === (int) round($h->tick / $step) % $every ? $h->placed($h->tick * Hit::FINE + $h->fine, min(127, $h->velocity + 24), $h->lengthTicks()) : $h->placed($h->tick * Hit::FINE + $h->fine, max(1, $h->velocity - 12), $h->lengthTicks()), $hits),
            self::Clear => [],
        };
    }

    private static function turned(int $tick, int $ticks, int $step): int
    {
        $place = (int) round($tick / $step);
        $off = $tick - $place * $step;
        $turned = $ticks - ($place + 1) * $step + $off;

        return (($turned % $ticks) + $ticks) % $ticks;
    }
}
