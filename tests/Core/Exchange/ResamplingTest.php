<?php

namespace Pestle\Tests\Core\Exchange;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Resampling;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

final class ResamplingTest extends TestCase
{
    public function testWetIsTheBeatAndDryIsWithoutItsMix(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = $beats->beat(3);
        self::assertEquals($beat, Resampling::of($beat, null, true));
        $dry = Resampling::of($beat, null, false);
        foreach ($dry->mixer->nodes as $node) {
            self::assertSame([0.0, 0.0, [], []], [$node->gainDb, $node->pan, $node->inserts, $node->sends]);
        }
        self::assertSame([], $dry->mixer->master->inserts);
        self::assertSame($beat->mixer->master->ceilingDb, $dry->mixer->master->ceilingDb);
        self::assertSame([$beat->kit, $beat->patterns], [$dry->kit, $dry->patterns], 'what is played is the same');
    }

    public function testOneChannelIsHeardAloneEvenIfItWasMuted(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = $beats->beat(2);
        $ids = array_keys($beat->mixer->of(NodeKind::Channel));
        $muted = $beat->withMixer($beat->mixer->with($beat->mixer->nodes[$ids[0]]->with(['mute' => true])));
        foreach ([$beat, $muted] as $from) {
            $caught = Resampling::of($from, (string) $ids[0], true);
            $heard = array_filter($caught->mixer->of(NodeKind::Channel), static fn (Node $c): bool => $caught->mixer->isHeard($c));
            self::assertSame([$ids[0]], array_keys($heard));
        }
        // Its sound is what its pads give, and nothing of the others.
        $alone = $this->peak($beats, Resampling::of($beat, (string) $ids[0], true));
        self::assertGreaterThan(0.001, $alone);
        $empty = $beat->with(['patterns' => array_map(static fn ($p) => $p->withHits([])->withNotes([]), $beat->patterns)]);
        self::assertSame(0.0, $this->peak($beats, Resampling::of($empty, (string) $ids[0], true)));
        $this->expectException(InvalidChange::class);
        Resampling::of($beat, 'c99', true);
    }

    public function testNamesSayWhatWasCaught(): void
    {
        $beat = (new RandomBeats(Sounds::folder()))->beat(1);
        self::assertSame('Random 1', Resampling::name($beat, null, null));
        self::assertSame('Pattern 1', Resampling::name($beat, 'p1', null));
        self::assertSame('Pattern 1, '.$beat->channel('c1')->name, Resampling::name($beat, 'p1', 'c1'));
    }

    private function peak(RandomBeats $beats, Beat $beat): float
    {
        $sounds = new PadSounds(new SampleLibrary($beats->folder), Beat::SAMPLE_RATE);
        $peak = 0.0;
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::loop($beat, 'p1', $sounds)) as $moment) {
            $peak = max($peak, $moment->mix->block()->peak());
        }

        return $peak;
    }
}
