<?php

namespace Pestle\App\Gather;

use Pestle\App\Entity\Sample;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Sample\BeatGrid;

/** One step in correcting a recording's beat grid by hand, as a page asks for it. */
final class GridStep
{
    /**
     * @param Fields $fields "do" and what it needs: beats by number, places in seconds
     *
     * @throws InvalidChange
     */
    public static function on(Sample $sample, Fields $fields): BeatGrid
    {
        $do = $fields->text('do', 12);
        $tempo = static fn (): float => $fields->number('bpm', BeatGrid::SLOWEST, BeatGrid::FASTEST);
        $seconds = static fn (string $field): float => $fields->number($field, -60.0, 86400.0);
        $beat = static fn (): int => $fields->whole('beat', -100_000, 1_000_000);
        try {
            $grid = $sample->grid();
            if (null === $grid) {
                return match ($do) {
                    'tempo' => BeatGrid::even($tempo(), 0.0),
                    'taps' => BeatGrid::even(BeatGrid::tapped(self::taps($fields)), 0.0),
                    'stretch' => BeatGrid::even(BeatGrid::tempo($fields->whole('beats', 1, 4096), $seconds('to') - $seconds('from')), $seconds('from')),
                    default => throw new InvalidChange('This sample has no beat grid yet: set a tempo, tap it, or say how many bars the selection is.'),
                };
            }

            return match ($do) {
                'tempo' => $grid->withTempo($tempo(), $fields->has('beat') ? $beat() : null),
                'taps' => $grid->withTempo(BeatGrid::tapped(self::taps($fields)), $fields->has('beat') ? $beat() : null),
                'times' => $grid->times($fields->number('factor', 0.25, 4.0)),
                'move' => $grid->moved($beat(), $seconds('seconds')),
                'spread' => $grid->spread($beat(), $seconds('seconds')),
                'shift' => $grid->shifted($seconds('seconds')),
                'first' => $grid->from($seconds('seconds')),
                'stretch' => $grid->stretch($seconds('from'), $seconds('to'), $fields->whole('beats', 1, 4096)),
                'hold' => $grid->moved($beat(), $grid->seconds($beat())),
                'let-go' => $grid->without($beat()),
                'clear' => $grid->cleared($sample->seconds()),
                'change' => $grid->changing($beat(), $fields->flag('gradual')),
                default => throw InvalidChange::field('do', 'is nothing that can be done to a beat grid.'),
            };
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    /** @return list<float> seconds, from a list of milliseconds */
    private static function taps(Fields $fields): array
    {
        return array_map(static fn (int $ms): float => $ms / 1000.0, $fields->wholes('taps', 64, 1 << 50));
    }
}
