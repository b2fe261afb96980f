<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Theory\Parameter;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** A parameter has one result, by whatever change it is set. */
final class OneResultTest extends TestCase
{
    public function testSetSaysWhatTheOthersSay(): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar(11));
        $beats = new RandomBeats(Sounds::folder());
        for ($seed = 1; $seed <= 6; ++$seed) {
            $beat = $beats->parts($seed);
            $keys = array_key_first(array_filter($beat->parts, static fn ($part): bool => null !== $part->keys)) ?? self::fail('A part is played on keys.');
            foreach ([
                [Pad::parameters(), 'kit/a1', ['type' => 'set-pad', 'pad' => 'a1']],
                [Layer::parameters(), 'kit/a1/layers/1', ['type' => 'set-layer', 'pad' => 'a1', 'layer' => 1]],
                [Keys::parameters(), 'part/'.$keys, ['type' => 'set-keys', 'part' => $keys]],
                [Zone::parameters(), 'part/'.$keys.'/zones/0', ['type' => 'set-keys', 'part' => $keys, 'zone' => 0]],
            ] as [$parameters, $under, $other]) {
                foreach ($parameters as $name => $parameter) {
                    $value = self::value($parameter, $chance);
                    self::assertEquals(RandomBeats::changed($beat, [[...$other, $name => $value]]), RandomBeats::changed($beat, [['type' => 'set', 'under' => $under, $name => $value]]), "$under/$name = $value, seed $seed");
                }
            }
        }
    }

    /** Who answers by strength shares the strengths, and all of them again where it answers otherwise; what is said along with it stays. */
    public function testAnsweringByStrengthSharesTheStrengths(): void
    {
        $sounds = array_map(static fn (int $i): Layer => new Layer('Sound '.$i, str_repeat((string) $i, 64), 0, 100), [1, 2, 3]);
        $pad = (new Pad('a0', 'Pad', \Pestle\Core\Kit\Role::Snare, 'none', $sounds));
        $ranges = static fn (Pad $pad): array => array_map(static fn (Layer $l): array => [$l->low, $l->high], $pad->layers);
        $shared = $pad->with(['answer' => Answer::Strength]);
        self::assertSame([[1, 43], [44, 85], [86, 127]], $ranges($shared));
        self::assertSame([[1, 127], [1, 127], [1, 127]], $ranges($shared->with(['answer' => Answer::Turn])));
        $own = $pad->with(['layers' => [$sounds[0]->with(['high' => 20]), $sounds[1]->with(['low' => 21]), $sounds[2]]]);
        self::assertSame([[1, 20], [21, 127], [1, 127]], $ranges($own->with(['answer' => Answer::Strength])), 'they were shared out already');
        self::assertSame([[1, 20], [21, 127], [1, 127]], $ranges($own->with(['answer' => Answer::Turn, 'layers' => $own->layers])), 'turns within strengths, as a file has them');
        self::assertSame([[1, 20], [21, 127], [1, 127]], $ranges($own->with(['answer' => Answer::All])), 'it answers so already');
    }

    private static function value(Parameter $parameter, Randomizer $chance): int|float|string
    {
        return match (true) {
            null !== $parameter->choice => $parameter->options()[$chance->getInt(0, \count($parameter->options()) - 1)],
            \is_bool($parameter->default) => $chance->getInt(0, 1),
            $parameter->whole => $chance->getInt((int) $parameter->least, (int) $parameter->most),
            default => round($parameter->least + ($parameter->most - $parameter->least) * $chance->getInt(0, 100) / 100.0, 2),
        };
    }
}
