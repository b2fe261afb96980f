<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Render\Engine;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** The same question for a loop is answered from what is known, to the bit, as long as its segments are there. */
final class KnownLoopsTest extends TestCase
{
    private RandomBeats $beats;
    private string $folder;

    protected function setUp(): void
    {
        $this->beats = new RandomBeats(Sounds::folder());
        $this->folder = Sounds::folder();
    }

    public function testAskedAgainNothingIsReckonedAnew(): void
    {
        $engine = $this->engine();
        $json = BeatCodec::encode($this->beats->beat(3));
        [$first, $sound, $steps] = self::ask($engine, $json, '');
        [$again, $same, $few] = self::ask($engine, $json, '');
        self::assertSame([$first, md5($sound)], [$again, md5($same)]);
        self::assertIsArray($first['changed']);
        self::assertSame(\count($first['changed']), $few, 'a step for each segment that is sent');
        self::assertGreaterThan(2 * $few, $steps);
        // After an edit and its undo only what the edit changed is sent, both ways.
        $edited = BeatCodec::encode(RandomBeats::changed($this->beats->beat(3), [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[480, 'a0', 120]]]]));
        [$second, $patch] = self::ask($engine, $edited, $first['render']);
        [$third, $back, $steps] = self::ask($engine, $json, $second['render']);
        self::assertSame([$first['render'], $second['changed'], \strlen($patch), \count((array) $second['changed'])], [$third['render'], $third['changed'], \strlen($back), $steps]);
        $at = 0;
        foreach ((array) $third['changed'] as $place) {
            [$start, $frames] = \is_array($place) && \is_int($place[0]) && \is_int($place[1]) ? $place : self::fail('A place is two numbers.');
            self::assertSame(md5(substr($sound, 8 * $start, 8 * $frames)), md5(substr($back, $at, 8 * $frames)));
            $at += 8 * $frames;
        }
        self::assertSame(['gone' => true], self::told(self::ask($engine, $json, '', 'p99')[0]));
    }

    public function testItIsKnownToAnotherEngineAndWorkedOutWhereSegmentsAreLost(): void
    {
        $engine = $this->engine();
        $json = BeatCodec::encode($this->beats->beat(5));
        [$first, $sound, $steps] = self::ask($engine, $json, '');
        while ($engine->hasChores()) {
            $engine->chore();
        }
        [$known, $same, $few] = self::ask($this->engine(), $json, '');
        self::assertSame([$first, md5($sound)], [$known, md5($same)]);
        self::assertSame(\count((array) $first['changed']), $few);

        foreach (glob($this->folder.'/??/*') ?: [] as $file) {
            // Damaged ones are as good as lost.
            file_put_contents($file, substr((string) file_get_contents($file), 0, -9));
        }
        [$anew, $made, $many] = self::ask($this->engine(), $json, '');
        self::assertSame([$first, md5($sound), $steps], [$anew, md5($made), $many]);
    }

    public function testWhatALighterSoundStandsForIsNotKept(): void
    {
        $hash = $this->beats->beat(3)->pad('a0')->layers[0]->sample;
        $frames = (new SampleLibrary($this->beats->folder))->open($hash)->frames();
        $beat = RandomBeats::changed($this->beats->beat(3), [
            ['type' => 'set-edits', 'sample' => $hash, 'frames' => $frames, 'edits' => [['kind' => 'stretch', 'percent' => 133, 'material' => 'tones']]],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 120]]],
        ]);
        $engine = new Engine(new SampleLibrary($this->beats->folder, Sounds::folder(), false, atOnce: 0.0), new SegmentCache(40_000_000, $this->folder));
        $json = BeatCodec::encode($beat);
        [$first, , $steps] = self::ask($engine, $json, '');
        self::assertNotSame([], $first['working']);
        [$again, , $many] = self::ask($engine, $json, '');
        self::assertSame([$first['working'], $first['render'], $steps], [$again['working'], $again['render'], $many], 'it is looked for again');
    }

    private function engine(): Engine
    {
        return new Engine(new SampleLibrary($this->beats->folder), new SegmentCache(40_000_000, $this->folder));
    }

    /** @return array{array<string, mixed>, string, int} answer, sound, and steps it took */
    private static function ask(Engine $engine, string $json, mixed $have, string $what = 'p1'): array
    {
        $work = $engine->work(['op' => 'loop', 'beat' => $json, 'what' => $what, 'have' => $have]);
        $steps = 0;
        for (; $work->valid(); $work->next()) {
            ++$steps;
        }

        return [...$work->getReturn(), $steps];
    }

    /**
     * @param array<string, mixed> $answer
     *
     * @return array<string, mixed>
     */
    private static function told(array $answer): array
    {
        unset($answer['working']);

        return $answer;
    }
}
