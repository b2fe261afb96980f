<?php

namespace Pestle\Tests\App;

use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Pattern\Hit;
use Pestle\Tests\Core\Sounds;

/** The rain's beat: measured as the others are, and felt. */
final class RainOnTinTest extends DemoBeatCase
{
    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::$folder = Sounds::folder();
        self::console(['pestle:demo', 'Rain on Tin'], 0);
        self::console(['pestle:render', 'Rain on Tin', '--out='.self::$folder.'/main.wav', '--section=Downpour', '--loop'], 0);
        self::$sound = Sounds::whole(SoundFile::open(self::$folder.'/main.wav'));
    }

    /** What makes heads nod is on top of what is written: the snare drags, hats swing by themselves, nothing of it is in the hits. */
    public function testItsFeelLiesOnTop(): void
    {
        $beats = self::service(Beats::class);
        $beat = $beats->content($beats->called('Rain on Tin'));
        self::assertMadeSounds('Rain on Tin');
        $pattern = $beat->pattern('p3');
        $moved = [];
        foreach ($pattern->hits as $hit) {
            self::assertSame(0, $hit->tick % 240);
            $played = $beat->feeling($pattern->feelOf($hit->pad))->played($hit);
            $moved[$hit->pad][$hit->tick % 3840] = $beat->tempo->seconds($played->tick + $played->fine / Hit::FINE - $hit->tick);
        }
        self::assertEqualsWithDelta(0.0, $moved['a0'][0], 1e-9, 'the bass drum is on time');
        self::assertGreaterThan(0.003, $moved['a1'][15 * 240]);
        self::assertGreaterThan(0.01, $moved['a2'][5 * 240], 'hats swing');
        self::assertNotSame([], array_filter($pattern->hits, static fn (Hit $h): bool => $h->strikes > 1));
        $midi = self::console(['pestle:midi:out', 'Rain on Tin', '--out='.self::$folder.'/rain.mid'], 0);
        self::assertSame(self::$folder.'/rain.mid', $midi);
        $back = self::console(['pestle:midi:in', 'Rain on Tin', self::$folder.'/rain.mid', '--tempo'], 0);
        self::assertMatchesRegularExpression('/^Rain roof, Drums: \d{3} notes$/m', $back);
        self::assertStringContainsString('x.mid is not there.', self::console(['pestle:midi:in', 'Rain on Tin', self::$folder.'/x.mid'], 1));
        self::assertStringContainsString('Say where to write with --out=FILE.mid', self::console(['pestle:midi:out', 'Rain on Tin'], 2));
    }
}
