<?php

namespace Pestle\Tests\Core\Exchange;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Exchange\Fixing;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** A part that is fixed as sound sounds as it did, to the bit, whatever silences what and wherever it rings over; and is had back. */
final class FixingTest extends TestCase
{
    private static RandomBeats $beats;
    private static PadSounds $sounds;

    public static function setUpBeforeClass(): void
    {
        self::$beats = new RandomBeats(Sounds::folder());
        self::$sounds = new PadSounds(new SampleLibrary(self::$beats->folder), Beat::SAMPLE_RATE);
    }

    #[TestWith([8])]
    #[TestWith([21])]
    public function testItSoundsAsItDid(int $seed): void
    {
        $beat = self::$beats->parts($seed);
        $before = self::heard($beat);
        $fixed = 0;
        foreach (Passage::song($beat) as $i => $entry) {
            foreach (array_map(strval(...), array_keys($beat->parts)) as $part) {
                // Every second of them, so that fixed ones stand beside others.
                if (0 !== ($i + (int) substr($part, -1) + $seed) % 2) {
                    continue;
                }
                try {
                    $beat = self::fixed($beat, $entry->id, $part);
                    ++$fixed;
                } catch (InvalidChange $e) {
                    self::assertStringContainsString(' plays nothing in ', $e->getMessage());
                }
            }
        }
        self::assertGreaterThan(2, $fixed);
        self::assertSame($before, self::heard($beat));
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
    }

    public function testItIsHadBack(): void
    {
        $beat = self::$beats->parts(8);
        foreach (Passage::song($beat) as $entry) {
            $fixed = self::fixed($beat, $entry->id, 'part-1');
            self::assertSame(['part-1'], $fixed->entry($entry->id)->fixed);
            self::assertGreaterThan(\count($beat->clips), \count($fixed->clips));
            try {
                Changes::apply(Changes::read(['type' => 'play-again', 'entry' => $entry->id, 'part' => 'part-2']), $fixed);
                self::fail('It was not fixed.');
            } catch (InvalidChange $e) {
                self::assertStringContainsString('it is not fixed as sound', $e->getMessage());
            }
            // Another order takes it along with its section, although it begins a little before it.
            $turned = RandomBeats::changed($fixed, [['type' => 'set-song', 'entries' => array_reverse(array_map(static fn (Entry $e): array => [$e->id, $e->section], array_values($beat->song)))]]);
            $moved = self::start($turned, $entry->id) - self::start($fixed, $entry->id);
            foreach (array_diff_key($fixed->clips, $beat->clips) as $id => $clip) {
                self::assertSame($clip->at + $moved, $turned->clip($id)->at);
            }
            self::assertEquals($beat, RandomBeats::changed($fixed, [['type' => 'play-again', 'entry' => $entry->id, 'part' => 'part-1']]));

            return;
        }
    }

    private static function fixed(Beat $beat, string $entry, string $part): Beat
    {
        $fixing = new Fixing($beat, $entry, $part);
        $rows = [];
        foreach ($fixing->channels() as $channel) {
            $path = self::$beats->folder.'/fixed.wav';
            if ($fixing->write($channel, self::$sounds, $path, static fn (float $part): bool => $part >= 0.0)) {
                $hash = Sounds::keep(self::$beats->folder, $path);
                $rows[] = ['channel' => $channel, 'sample' => $hash, 'rate' => Beat::SAMPLE_RATE, 'frames' => self::$sounds->recorded($hash)];
            }
        }
        if ([] === $rows) {
            throw new InvalidChange('Silence plays nothing in it.');
        }

        return RandomBeats::changed($beat, [['type' => 'fix-part', 'entry' => $entry, 'part' => $part, 'at' => $fixing->at, 'sounds' => $rows]]);
    }

    private static function start(Beat $beat, string $entry): int
    {
        $at = 0;
        foreach (Passage::song($beat) as $other) {
            if ($other->id === $entry) {
                return $at;
            }
            $at += $other->repeats * $beat->section($other->section)->lengthTicks($beat->patterns);
        }

        return -1;
    }

    private static function heard(Beat $beat): string
    {
        $hash = hash_init('sha256');
        foreach ((new Renderer(self::$sounds, SegmentCache::none()))->stream(Plan::song($beat, Passage::song($beat), self::$sounds)) as $moment) {
            hash_update($hash, pack('g*', ...$moment->mix->block()->left).pack('g*', ...$moment->mix->block()->right));
        }

        return hash_final($hash);
    }
}
