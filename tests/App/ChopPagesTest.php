<?php

namespace Pestle\Tests\App;

use Pestle\App\Entity\Sample;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Tests\Core\Sounds;

/** What Chop shows of recordings of every sort, and what a beat keeps of them over HTTP. */
final class ChopPagesTest extends AppCase
{
    public function testADriftingRecordingIsShownWithItsHeldLinesAndFollowsTheTempo(): void
    {
        $sample = self::drifting();
        self::assertFalse($sample->grid()?->isEven());
        $beat = self::beat();
        $page = self::chop($beat, $sample, 'grid');
        self::assertStringContainsString('held lines', $page);
        self::assertMatchesRegularExpression('/data-held="\{[^"]*true/', $page);
        $page = self::chop($beat, $sample, 'fit');
        self::assertStringContainsString('Every beat on the beat at 90 BPM', $page);
        preg_match('/hx-vals="([^"]*in-time[^"]*)"/', $page, $m);
        $change = json_decode(html_entity_decode($m[1] ?? ''), true);
        self::assertIsArray($change);
        /** @var array<string, mixed> $change */
        self::made($beat, $change);
        self::assertStringContainsString('Follows the tempo already', self::chop($beat, $sample, 'fit'));
        $frames = static fn (): int => self::service(Beats::class)->content(self::service(Beats::class)->find($beat) ?? self::fail())->edits[$sample->hash]->length($sample->frames);
        $at90 = $frames();
        self::made($beat, ['type' => 'set-tempo', 'bpm' => 100]);
        self::assertEqualsWithDelta($at90 * 0.9, $frames(), 3);
        // What is heard lies on the beat: places in the middle, half a minute of drums apart.
        $edits = rawurlencode((string) json_encode(self::service(Beats::class)->content(self::service(Beats::class)->find($beat) ?? self::fail())->edits[$sample->hash]->toArray()));
        self::assertSame(202, self::ask('GET', "/samples/$sample->hash/hits?edits=$edits")->getStatusCode());
        self::work();
        $hits = self::json(self::ask('GET', "/samples/$sample->hash/hits?edits=$edits"))['hits'] ?? null;
        self::assertIsArray($hits);
        foreach (range(1, \count($hits) - 1) as $i) {
            self::assertIsInt($hits[$i]);
            self::assertIsInt($hits[0]);
            $beats = ($hits[$i] - $hits[0]) / (0.6 * 44100);
            // Twelve milliseconds: as near as beats are heard.
            self::assertEqualsWithDelta(round($beats), $beats, 0.02);
        }
        self::ask('POST', "/beats/$beat/undo", [], ['X-Pestle-Head' => (string) self::service(Beats::class)->find($beat)?->head]);
        self::assertSame($at90, $frames());
    }

    public function testEveryToolShowsEverySortOfRecording(): void
    {
        $beat = self::beat();
        self::made($beat, ['type' => 'set-key', 'key' => 'D minor']);
        $tone = Sounds::sine(220.0, 40000, 44100, 0.4);
        $samples = [
            'no beats' => self::sample('Tone', new StereoBlock($tone, $tone)),
            'even' => self::sample('Loop', self::drums(array_map(static fn (int $i): float => 0.5 * $i, range(0, 15)), 8.0)),
            'silent' => self::sample('Nothing', StereoBlock::silence(20000)),
        ];
        foreach ($samples as $sort => $sample) {
            foreach (['slices', 'edits', 'grid', 'fit', 'arrange'] as $tool) {
                self::assertStringContainsString('<pestle-wave', self::chop($beat, $sample, $tool), "$sort, $tool");
            }
        }
        self::assertStringContainsString('No beats are known.', self::chop($beat, $samples['no beats'], 'grid'));
        self::assertStringContainsString('Its note, A3', self::chop($beat, $samples['no beats'], 'fit'));
        self::assertStringContainsString('Even, 120 BPM', self::chop($beat, $samples['even'], 'grid'));
        $fit = self::chop($beat, $samples['even'], 'fit');
        self::assertStringContainsString('A4, home chord, in the scale', $fit);
        self::assertStringContainsString('G4, in the scale', $fit);
        self::assertStringContainsString('120 → 90 BPM, now 4 bars long', $fit);
        self::assertStringContainsString('No tempo, and', self::chop($beat, $samples['silent'], 'fit'));
    }

    public function testPadsWithLayersAreHeardByStrength(): void
    {
        $beat = self::beat();
        $sounds = array_map(static fn (float $level, string $name): Sample => self::sample($name, Sounds::hit(3, 4000, $level)), [0.8, 0.1], ['Hard', 'Gentle']);
        self::made($beat, ['type' => 'land-sounds', 'pad' => 'a0', 'how' => 'strength', 'sounds' => array_map(static fn (Sample $s): array => ['sample' => $s->hash, 'name' => $s->name, 'frames' => $s->frames, 'role' => 'snare', 'peakDb' => $s->peakDb], $sounds)]);
        $kit = (string) self::ask('GET', "/beats/$beat/kit?pad=a0")->getContent();
        self::assertMatchesRegularExpression('/Sound 1: Gentle, strengths 1 to 64.*Sound 2: Hard, strengths 65 to 127/s', $kit);
        self::assertStringContainsString('&quot;strengths&quot;:[64,127]', $kit);
        $struck = static fn (int $velocity): string => (string) self::ask('GET', "/beats/$beat/pads/a0/0123456789abcdef?velocity=$velocity")->getContent();
        self::assertSame($struck(127), $struck(500));
        self::assertNotSame($struck(64), $struck(65));
        // Both are known to be used, so that neither is cleared out.
        $gather = (string) self::ask('GET', "/beats/$beat/gather?sample=".$sounds[0]->hash)->getContent();
        self::assertStringContainsString('Used in', $gather);
    }

    /** Edits that take long are worked out beside everything; until then a lighter sound, as long, is heard. */
    public function testLongEditsHoldNothingUp(): void
    {
        $beat = self::beat();
        $tone = Sounds::sine(220, 12 * 44100, 44100, 0.5);
        $sample = self::sample('Long tone', new StereoBlock($tone, $tone));
        $edits = [['kind' => 'stretch', 'percent' => 110, 'material' => 'tones'], ['kind' => 'pitch', 'cents' => 200, 'material' => 'tones']];
        self::made($beat, ['type' => 'set-edits', 'sample' => $sample->hash, 'frames' => $sample->frames, 'edits' => $edits]);
        $frames = (int) round(12 * 44100 * 1.1);
        self::made($beat, ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $sample->hash, 'name' => 'Tone', 'role' => 'tonal', 'start' => 0, 'end' => $frames]);
        self::made($beat, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127]]]);
        $outline = "/samples/$sample->hash/outline/0/0?edits=".rawurlencode((string) json_encode($edits));
        $loop = static function () use ($beat): array {
            $bytes = (string) self::ask('POST', "/beats/$beat/loop", ['what' => 'p1'])->getContent();
            /** @var array{1: int} $head */
            $head = unpack('V', $bytes);

            return [json_decode(substr($bytes, 4, $head[1]), true), substr($bytes, 4 + $head[1])];
        };
        $answer = self::ask('GET', $outline);
        self::assertSame(202, $answer->getStatusCode());
        self::assertArrayHasKey('working', self::json($answer));
        [$lighter, $light] = $loop();
        self::assertIsArray($lighter);
        self::assertSame(0.0, (float) (is_numeric($lighter['working'] ?? null) ? $lighter['working'] : -1));
        self::work();
        self::assertSame(200, self::ask('GET', $outline)->getStatusCode());
        [$exact, $sound] = $loop();
        self::assertIsArray($exact);
        self::assertArrayNotHasKey('working', $exact);
        self::assertSame(\strlen($light), \strlen($sound));
        self::assertNotSame($light, $sound);
    }

    /** Strength acts before a compressor, so a pad whose channel has one is heard at several strengths. */
    public function testAStruckPadIsCompressedAsItIsInTheBeat(): void
    {
        $beat = self::beat();
        $tone = Sounds::sine(441, 30000, 44100, 0.7);
        $sample = self::sample('Tone', new StereoBlock($tone, $tone));
        self::made($beat, ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $sample->hash, 'name' => 'Tone', 'role' => 'tonal', 'start' => 0, 'end' => 30000]);
        $level = static function (int $velocity) use ($beat): float {
            $page = (string) self::ask('GET', "/beats/$beat/kit?pad=a0")->getContent();
            self::assertSame(1, preg_match('~&quot;url&quot;:&quot;([^&]*pads[^&]*)&quot;~', $page, $found));
            $response = self::ask('GET', stripslashes($found[1] ?? '').'?velocity='.$velocity);
            self::assertStringContainsString('immutable', (string) $response->headers->get('Cache-Control'));
            $bytes = (string) $response->getContent();
            /** @var array{1: int} $head */
            $head = unpack('V', $bytes);
            /** @var array<int, int> $values */
            $values = unpack('l*', substr($bytes, 4 + $head[1] + 8 * 20000, 8 * 4000));

            return 20.0 * log10(max(1, ...array_map(abs(...), $values)) / 8388608.0);
        };
        $linear = $level(127) - $level(58);
        self::assertEqualsWithDelta(30.0 * log10(127 / 58), $linear, 0.01);
        self::made($beat, ['type' => 'set', 'under' => 'mixer/c1/inserts/i2', 'on' => 1, 'thresholdDb' => -40, 'ratio' => 4, 'attackMs' => 1, 'releaseMs' => 300, 'makeupDb' => 0]);
        self::assertStringContainsString('&quot;strengths&quot;:[20,40,58,76,92,108,127]', (string) self::ask('GET', "/beats/$beat/kit?pad=a0")->getContent());
        self::assertEqualsWithDelta($linear / 4.0, $level(127) - $level(58), 0.05);
        // What crosses a change is not kept under a name that is another sound's.
        $old = self::ask('GET', "/beats/$beat/pads/a0/0123456789abcdef?velocity=127");
        self::assertStringContainsString('no-store', (string) $old->headers->get('Cache-Control'));
        self::assertStringContainsString('"old":true', substr((string) $old->getContent(), 0, 80));
    }

    private static function beat(): int
    {
        self::ask('POST', '/beats');
        $beat = (int) self::service(Beats::class)->all()[0]->id;
        self::made($beat, ['type' => 'set-tempo', 'bpm' => 90]);

        return $beat;
    }

    private static function chop(int $beat, Sample $sample, string $tool): string
    {
        $answer = self::ask('GET', "/beats/$beat/chop?tool=$tool&sample=$sample->hash");
        self::assertSame(200, $answer->getStatusCode());

        return (string) $answer->getContent();
    }

    /** Drums that get faster, from 80 to 104 BPM. */
    private static function drifting(): Sample
    {
        $places = [];
        for ($seconds = 0.4, $i = 0; $i < 40; ++$i) {
            $places[] = $seconds;
            $seconds += 60 / (80 + 24 * $i / 39);
        }

        return self::sample('Drifting', self::drums($places, $seconds + 0.3));
    }
}
