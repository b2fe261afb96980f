<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;

/**
 * A room: what rings in it, and its first walls, which are heard by themselves. What goes round is cut to the grid towards
 * nothing, so that it ends.
 */
final readonly class Reverb implements Insert
{
    /** First walls by side: ms at size 1, level, and from which side the sound comes. */
    private const WALLS = [
        [[7.1, 0.62, 0], [11.9, 0.55, 1], [19.7, 0.47, 0], [27.3, 0.38, 1], [35.9, 0.31, 0], [45.1, 0.25, 1]],
        [[8.9, 0.62, 1], [13.3, 0.55, 0], [21.9, 0.47, 1], [25.1, 0.38, 0], [38.3, 0.31, 1], [43.7, 0.25, 0]],
    ];

    /** @var list<list<array{int, float, int}>> frames, gain and side of the walls by side */
    private array $walls;
    private int $before;
    private int $memory;
    private float $thin;
    private float $wet;
    private float $dry;
    private float $late;
    private float $across;

    public function __construct(ReverbSettings $settings, float $sampleRate, private RoomLines $lines)
    {
        $frames = static fn (float $ms): int => max(1, (int) round($ms * $sampleRate / 1000.0));
        $this->before = (int) round($settings->preDelayMs * $sampleRate / 1000.0);
        $walls = [];
        foreach (self::WALLS as $side) {
            $walls[] = array_map(fn (array $w): array => [$this->before + $frames($w[0] * $settings->size), 0.01 * $settings->early * $w[1], $w[2]], $side);
        }
        $this->walls = $walls;
        $this->memory = max(array_column([...$walls[0], ...$walls[1]], 0));
        $this->thin = OnePole::share($settings->lowCutHz, $sampleRate);
        $this->wet = sin(0.005 * \M_PI * $settings->mix);
        $this->dry = $settings->direct ? cos(0.005 * \M_PI * $settings->mix) : 0.0;
        // The first walls take from what rings.
        $this->late = $lines->level() * cos(0.0025 * \M_PI * $settings->early);
        $this->across = 0.5 - 0.005 * $settings->width;
    }

    /** The low-passes of the lines, then the high-pass of both sides. */
    public function rest(): InsertState
    {
        return new InsertState(array_fill(0, $this->lines->numbers() + 2, 0.0));
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $n = $in->frames();
        [$before, $lines] = $this->remembered($state->memory);
        $sound = [[...$before[0], ...$in->left], [...$before[1], ...$in->right]];
        $early = [self::walls($sound[0], $sound[1], $n, $this->memory, $this->walls[0]), self::walls($sound[0], $sound[1], $n, $this->memory, $this->walls[1])];
        $late = array_map(fn (array $side): array => \array_slice($side, $this->memory - $this->before, $n), $sound);
        [$left, $right, $lines, $numbers] = $this->lines->ring($late[0], $late[1], $lines, \array_slice($state->numbers, 0, -2));
        $other = $left;
        [$low, $high] = \array_slice($state->numbers, -2);
        [$left, $low] = self::together($in->left, $left, $right, $early[0], $early[1], $this->dry, $this->wet, $this->late, $this->across, $this->thin, $low, Grid::SOUND);
        [$right, $high] = self::together($in->right, $right, $other, $early[1], $early[0], $this->dry, $this->wet, $this->late, $this->across, $this->thin, $high, Grid::SOUND);
        $kept = [\array_slice($sound[0], -$this->memory), \array_slice($sound[1], -$this->memory), ...$lines];

        return [new StereoBlock($left, $right), new InsertState(Grid::state([...$numbers, $low, $high]), Memory::whole($kept)), null];
    }

    /** @return array{array{list<float>, list<float>}, list<list<float>>} both sides of what came in last; and what the lines remember */
    private function remembered(?Memory $memory): array
    {
        $sizes = [$this->memory, $this->memory, ...$this->lines->frames()];
        $all = $memory?->lines() ?? [];
        if (array_map(\count(...), $all) !== $sizes) {
            $all = array_map(static fn (int $size): array => array_fill(0, $size, 0.0), $sizes);
        }

        return [[$all[0], $all[1]], \array_slice($all, 2)];
    }

    /**
     * @param list<float>                  $left  with what was before
     * @param list<float>                  $right
     * @param list<array{int, float, int}> $walls
     *
     * @return list<float>
     */
    private static function walls(array $left, array $right, int $count, int $memory, array $walls): array
    {
        $from = static fn (int $k): array => 0 === $walls[$k][2] ? $left : $right;

        return 0.0 === $walls[0][1] ? array_fill(0, $count, 0.0) : self::six(
            $from(0), $from(1), $from(2), $from(3), $from(4), $from(5), $count,
            $memory - $walls[0][0], $memory - $walls[1][0], $memory - $walls[2][0], $memory - $walls[3][0], $memory - $walls[4][0], $memory - $walls[5][0],
            $walls[0][1], $walls[1][1], $walls[2][1], $walls[3][1], $walls[4][1], $walls[5][1],
        );
    }

    /**
     * @param list<float> $a
     * @param list<float> $b
     * @param list<float> $c
     * @param list<float> $d
     * @param list<float> $e
     * @param list<float> $f
     *
     * @return list<float>
     */
    private static function six(
        array $a, array $b, array $c, array $d, array $e, array $f, int $count, int $ia, int $ib, int $ic, int $id, int $ie, int $if,
        float $ga, float $gb, float $gc, float $gd, float $ge, float $gf,
    ): array {
        $out = [];
        for ($i = 0; $i < $count; ++$i) {
            $out[] = $ga * $a[$ia + $i] + $gb * $b[$ib + $i] + $gc * $c[$ic + $i] + $gd * $d[$id + $i] + $ge * $e[$ie + $i] + $gf * $f[$if + $i];
        }

        return $out;
    }

    /**
     * @param list<float> $dry
     * @param list<float> $own   what rings on this side, and on the other
     * @param list<float> $other
     * @param list<float> $early
     * @param list<float> $there first walls of the other side
     *
     * @return array{list<float>, float}
     */
    private static function together(array $dry, array $own, array $other, array $early, array $there, float $itself, float $wet, float $late, float $across, float $thin, float $low, float $grid): array
    {
        $here = 1.0 - $across;
        for ($i = 0, $n = \count($dry); $i < $n; ++$i) {
            $x = $dry[$i];
            if (!\is_float($x)) {
                throw new \TypeError('Sound is floats.');
            }
            $y = $late * ($here * $own[$i] + $across * $other[$i]) + $here * $early[$i] + $across * $there[$i];
            $low += $thin * ($y - $low);
            $dry[$i] = ($itself * $x + $wet * ($y - $low) + $grid) - $grid;
        }

        return [array_values($dry), $low];
    }
}
