<?php

namespace Pestle\Core\Exchange\Sfz;

use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Zone;

/**
 * Crossfades between strengths. There a sound has a stretch over which it comes in and one over which it goes; here
 * two sounds share an edge, and all edges of a pad the strengths they fade over.
 */
final readonly class Crossfade
{
    /**
     * @param int|null $low   softest strike of the layer, where it comes in
     * @param int|null $high  hardest one, where it goes
     * @param int      $width strengths it fades over
     */
    private function __construct(public ?int $low, public ?int $high, public int $width)
    {
    }

    public static function of(Region $region): ?self
    {
        [$in, $out] = [self::stretch($region, 'xfin'), self::stretch($region, 'xfout')];
        if (null === $in && null === $out) {
            return null;
        }
        $within = static fn (int $strength): int => max(1, min(127, $strength));

        return new self(
            null === $in || $in[1] < 2 ? null : $within((int) ceil(($in[0] + $in[1]) / 2)),
            null === $out || $out[0] > 126 ? null : $within((int) ceil(($out[0] + $out[1]) / 2) - 1),
            max(0, ...array_map(static fn (?array $s): int => null === $s ? 0 : $s[1] - $s[0], [$in, $out])),
        );
    }

    /** @return array{int, int}|null */
    private static function stretch(Region $region, string $name): ?array
    {
        if (!$region->has($name.'_lovel') && !$region->has($name.'_hivel')) {
            return null;
        }
        $low = max(0, min(127, $region->whole($name.'_lovel', 'xfin' === $name ? 0 : 127)));

        return [$low, max($low, min(127, $region->whole($name.'_hivel', 'xfin' === $name ? 0 : 127)))];
    }

    /** @return array<string, string> the keys of a recorded note, within those of its instrument, over whose edges it comes and goes */
    public static function keys(Keys $keys, Zone $zone): array
    {
        [$over, $low, $high] = [$keys->blend->fadeKeys, $keys->low, $keys->high];
        [$in, $out] = [(int) round($low - 0.5 - $over / 2), (int) round($high + 0.5 - $over / 2)];
        $from = $over > 0 && $low > 0 ? max(0, $in) : $low;
        $to = $over > 0 && $high < 127 ? min(127, $out + $over) : $high;
        $plain = ['lokey' => (string) max($zone->lowKey, $from), 'hikey' => (string) min($zone->highKey, $to)];

        return [...$plain, ...$over > 0 && $low > 0 ? ['xfin_lokey' => (string) $in, 'xfin_hikey' => (string) ($in + $over)] : [], ...$over > 0 && $high < 127 ? ['xfout_lokey' => (string) $out, 'xfout_hikey' => (string) ($out + $over)] : []];
    }

    /** @return array<string, string> */
    public static function opcodes(Layer $layer, int $width): array
    {
        $from = static fn (float $edge): int => (int) round($edge - $width / 2);
        $out = [];
        if ($layer->low > 1) {
            $low = $from($layer->low - 0.5);
            $out += ['lovel' => (string) max(1, $low), 'xfin_lovel' => (string) $low, 'xfin_hivel' => (string) ($low + $width)];
        }
        if ($layer->high < 127) {
            $high = $from($layer->high + 0.5);
            $out += ['hivel' => (string) min(127, $high + $width), 'xfout_lovel' => (string) $high, 'xfout_hivel' => (string) ($high + $width)];
        }

        return $out;
    }
}
