<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Entry;

/** A beat at a glance: the seeds of its fullest pattern, a lane for each role, and its sections in their order. */
final readonly class BeatPrint
{
    public const WIDTH = 256;
    public const HEIGHT = 60;

    /**
     * @param string                                                        $pattern name of the pattern shown
     * @param array<string, string>                                         $seeds   paths by role
     * @param list<array{name: string, x: float, width: float, shade: int}> $parts
     * @param float                                                         $seconds of the whole beat
     */
    private function __construct(public string $pattern, public array $seeds, public array $parts, public float $seconds)
    {
    }

    public static function of(Beat $beat): self
    {
        $song = array_map(static fn (Entry $entry): array => [$beat->section($entry->section), $entry->repeats], Passage::song($beat));
        $shown = array_values([] === $song ? $beat->patterns : array_intersect_key($beat->patterns, array_flip(array_merge(...array_map(static fn (array $entry): array => array_values($entry[0]->patterns), $song)))));
        usort($shown, static fn (Pattern $a, Pattern $b): int => \count($b->hits) <=> \count($a->hits));
        $ticks = array_sum(array_map(static fn (array $entry): int => $entry[0]->lengthTicks($beat->patterns) * $entry[1], $song));
        $shades = array_flip(array_keys($beat->sections));
        $x = 0.0;
        $drawn = [];
        foreach ($song as [$section, $repeats]) {
            $width = self::WIDTH * $section->lengthTicks($beat->patterns) * $repeats / $ticks;
            $drawn[] = ['name' => $section->name.($repeats > 1 ? ' × '.$repeats : ''), 'x' => $x, 'width' => $width, 'shade' => $shades[$section->id] % 3];
            $x += $width;
        }

        return new self($shown[0]->name ?? '', isset($shown[0]) ? self::seeds($beat, $shown[0]) : [], $drawn, Timeline::song($beat)->seconds($ticks));
    }

    /** @return array<string, string> */
    private static function seeds(Beat $beat, Pattern $pattern): array
    {
        $byRole = array_fill_keys(array_column(Role::cases(), 'value'), []);
        foreach ($pattern->hits as $hit) {
            $pad = $beat->kit->pad($hit->pad);
            if (null !== $pad) {
                $byRole[$pad->role->value][] = $hit;
            }
        }
        $lanes = array_filter($byRole);
        $height = self::HEIGHT / max(4, \count($lanes));
        $bottom = 0.0;
        $paths = [];
        foreach ($lanes as $role => $hits) {
            $bottom += $height;
            $paths[$role] = implode('', array_map(static fn (Hit $hit): string => \sprintf(
                'M%.1f %.1fv%.1f',
                1.5 + (self::WIDTH - 3) * $hit->tick / $pattern->lengthTicks(),
                $bottom,
                -max(1.5, ($height - 1.5) * $hit->velocity / 127),
            ), $hits));
        }

        return $paths;
    }
}
