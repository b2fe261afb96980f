<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\SampleStore;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;

/** What is heard in samples, what the maker says about them, and what is made of them. */
final class LibraryTest extends AppCase
{
    public function testALoopIsHeardAndCorrected(): void
    {
        $hash = self::loop(100.0, 'Night loop');
        $sample = self::service(SampleStore::class)->find($hash);
        self::assertNotNull($sample);
        self::assertSame('loop', $sample->kind());
        self::assertEqualsWithDelta(100.0, $sample->bpm(), 0.3);
        self::assertSame(2, $sample->bars());
        self::assertGreaterThan(0.5, $sample->sure('bpm'));
        self::assertSame('kick', $sample->hits()[0][1]);
        $before = self::json(self::ask('POST', "/library/$hash", ['bpm' => 50, 'tags' => 'Dusty,  night , dusty', 'favourite' => true, 'key' => 'Eb minor']));
        self::assertSame(['before' => ['bpm' => null, 'tags' => '', 'favourite' => false, 'key' => null]], $before);
        $sample = self::service(SampleStore::class)->find($hash);
        self::assertNotNull($sample);
        self::assertSame([50.0, 1, 'Eb minor', ['dusty', 'night'], true, 1.0], [$sample->bpm(), $sample->bars(), $sample->key(), $sample->tags, $sample->favourite, $sample->sure('bpm')]);
        // What was there before, sent back, takes it all back.
        self::ask('POST', "/library/$hash", ['bpm' => null, 'tags' => '', 'favourite' => false, 'key' => null]);
        $sample = self::service(SampleStore::class)->find($hash);
        self::assertNotNull($sample);
        self::assertEqualsWithDelta(100.0, $sample->bpm(), 0.3);
        self::assertSame([[], false], [$sample->tags, $sample->favourite]);
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function nonsense(): iterable
    {
        yield 'tempo' => [['bpm' => 4000], 'bpm must be a number from 20 to 400.'];
        yield 'key' => [['key' => 'H minor'], 'key must be a key. "H minor" is not a key.'];
        yield 'kind' => [['kind' => 'soup'], 'kind must be one of: one-shot, loop, song.'];
        yield 'role' => [['role' => 'spoon'], 'role must be one of: kick, snare'];
        yield 'unknown' => [['colour' => 'blue'], 'colour is nothing that can be said about a sample.'];
        yield 'name' => [['name' => ''], 'name must be text of 1 to 70 characters.'];
    }

    /** @param array<string, mixed> $facts */
    #[DataProvider('nonsense')]
    public function testNonsenseIsRefusedByField(array $facts, string $message): void
    {
        $hash = self::loop(90.0, 'Stays');
        $answer = self::ask('POST', "/library/$hash", $facts);
        self::assertSame(422, $answer->getStatusCode());
        self::assertStringContainsString($message, self::text(self::json($answer)['error']));
        self::assertSame('Stays', self::service(SampleStore::class)->find($hash)?->name);
    }

    public function testWhatNoBeatUsesIsClearedOutAndBroughtBack(): void
    {
        $used = self::loop(110.0, 'Used once');
        $unused = self::loop(115.0, 'Never used');
        self::ask('POST', '/beats');
        self::make(['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $used, 'name' => 'Used', 'role' => 'tonal', 'start' => 0, 'end' => 100]);
        self::make(['type' => 'clear-pad', 'pad' => 'a0']);
        $cleared = self::json(self::ask('POST', '/library/clear'));
        self::assertIsArray($cleared['cleared']);
        self::assertContains($unused, $cleared['cleared']);
        self::assertNotContains($used, $cleared['cleared'], 'undo would want it back');
        self::assertGreaterThan(100_000, $cleared['bytes']);
        $names = static fn (): array => array_map(static fn ($s): string => $s->name, self::service(SampleStore::class)->all());
        self::assertNotContains('Never used', $names());
        self::assertSame(\count($cleared['cleared']), self::json(self::ask('POST', '/library/restore', ['samples' => $cleared['cleared']]))['restored']);
        self::assertContains('Never used', $names());
        // A file that comes again after it was cleared is there again.
        self::ask('POST', '/library/clear');
        self::loop(115.0, 'Never used');
        self::assertContains('Never used', $names());
        self::assertSame(422, self::ask('POST', '/library/restore', ['nothing' => 1])->getStatusCode());
    }

    public function testASampleWithEditsIsShownHeardAndMeasuredAsItIs(): void
    {
        $hash = self::loop(120.0, 'Edited');
        $edits = rawurlencode((string) json_encode([['kind' => 'keep', 'from' => 44100, 'to' => 88200], ['kind' => 'gain', 'db' => -12]]));
        $plain = self::ask('GET', "/samples/$hash/frames?from=44100&count=400")->getContent();
        $edited = self::ask('GET', "/samples/$hash/frames?from=0&count=400&edits=$edits")->getContent();
        $peak = static function (string|false $bytes): int {
            /** @var non-empty-array<int, int> $values */
            $values = unpack('v*', (string) $bytes);

            return max(array_map(static fn (int $v): int => abs($v > 32767 ? $v - 65536 : $v), $values));
        };
        self::assertEqualsWithDelta(0.2512, $peak($edited) / $peak($plain), 0.003);
        self::assertNotSame(self::ask('GET', "/samples/$hash/outline/0/0")->getContent(), self::ask('GET', "/samples/$hash/outline/0/0?edits=$edits")->getContent());
        $sound = (string) self::ask('GET', "/samples/$hash/sound?edits=$edits")->getContent();
        self::assertStringContainsString('"frames":44100', substr($sound, 0, 200));
        $hits = self::json(self::ask('GET', "/samples/$hash/hits?edits=$edits"))['hits'];
        self::assertIsArray($hits);
        self::assertNotEmpty($hits);
        self::assertLessThan(44100, end($hits));
        self::assertSame(422, self::ask('GET', "/samples/$hash/outline/0/0?edits=%5B%7B%22kind%22%3A%22melt%22%7D%5D")->getStatusCode());
        self::assertSame(422, self::ask('GET', "/samples/$hash/sound?edits=soup")->getStatusCode());
        // Heavy work is done once and kept.
        $stretch = rawurlencode((string) json_encode([['kind' => 'stretch', 'percent' => 125]]));
        self::assertSame(200, self::ask('GET', "/samples/$hash/frames?edits=$stretch&count=50")->getStatusCode());
        $kept = glob(self::$data.'/edited/*.wav') ?: [];
        self::assertCount(1, $kept);
        self::assertSame(200, self::ask('GET', "/samples/$hash/hits?edits=$stretch")->getStatusCode());
        // What is laid over it costs nothing more.
        $faded = rawurlencode((string) json_encode([['kind' => 'stretch', 'percent' => 125], ['kind' => 'fade-in', 'shape' => 's'], ['kind' => 'mono', 'side' => 'sum']]));
        self::assertSame(200, self::ask('GET', "/samples/$hash/hits?edits=$faded")->getStatusCode());
        self::assertSame($kept, glob(self::$data.'/edited/*.wav'));
    }

    public function testTheBeatGridIsMovedByHand(): void
    {
        $hash = self::loop(96.0, 'Grid');
        $beats = static fn (): array => array_values(self::service(SampleStore::class)->find($hash)?->lines() ?? []);
        self::assertCount(8, $beats());
        self::ask('POST', "/library/$hash", ['downbeat' => 0.25]);
        $moved = $beats();
        self::assertSame((int) round(0.25 * 44100), $moved[0]);
        self::assertEqualsWithDelta(60 / 96 * 44100, $moved[1] - $moved[0], 60);
        self::ask('POST', "/library/$hash", ['bpm' => 192, 'downbeat' => 0]);
        self::assertCount(16, $beats());
        self::ask('POST', "/library/$hash", ['bpm' => null, 'downbeat' => null]);
        self::assertCount(8, $beats());
    }

    public function testTheBeatGridIsCorrectedStepByStep(): void
    {
        $hash = self::loop(96.0, 'Steps');
        $sample = static fn () => self::service(SampleStore::class)->find($hash) ?? self::fail('gone');
        $step = static fn (array $fields): array => self::step($hash, $fields);
        $lines = static fn (): array => $sample()->lines();
        self::assertSame(['before' => ['grid' => null]], $step(['do' => 'move', 'beat' => 4, 'seconds' => 2.6]));
        self::assertSame((int) round(2.6 * 44100), $lines()[4]);
        $held = $sample()->corrected('grid');
        self::assertSame(['before' => ['grid' => $held]], $step(['do' => 'times', 'factor' => 2]));
        self::assertEqualsWithDelta(184.6, $sample()->bpm(), 0.2);
        self::assertSame(1.0, $sample()->sure('bpm'));
        foreach ([
            [['do' => 'shift', 'seconds' => 0.01], 0.01], [['do' => 'first', 'seconds' => 0.7], 0.7], [['do' => 'tempo', 'bpm' => 90], 0.7],
            [['do' => 'taps', 'taps' => [0, 500, 1000, 1500]], 0.7], [['do' => 'hold', 'beat' => 2], 0.7], [['do' => 'change', 'beat' => 2, 'gradual' => 1], 0.7],
            [['do' => 'spread', 'beat' => 1, 'seconds' => 1.3], 0.7], [['do' => 'stretch', 'from' => 0.7, 'to' => 3.1, 'beats' => 4], 0.7], [['do' => 'clear'], 0.7],
        ] as [$fields, $first]) {
            self::assertArrayHasKey('before', $step($fields), $fields['do']);
            self::assertSame((int) round($first * 44100), $lines()[0], $fields['do']);
        }
        self::assertEqualsWithDelta(100.0, $sample()->bpm(), 1e-6);
        // Any earlier grid can be had back; a tempo said anew takes a grid's place, and gives it back.
        self::ask('POST', "/library/$hash", ['grid' => $held]);
        self::assertSame($held, $sample()->corrected('grid'));
        self::assertSame(['bpm' => null, 'grid' => $held], self::json(self::ask('POST', "/library/$hash", ['bpm' => 70]))['before']);
        self::assertEqualsWithDelta(70.0, $sample()->bpm(), 1e-6);
        // The whole of it without a beat known: a tempo makes a grid.
        $tone = Sounds::folder().'/tone.wav';
        WavWriter::copy(new \Pestle\Core\Audio\MemorySource(Sounds::hit(5, 9000), 44100), $tone, SampleFormat::Int16);
        $short = self::service(SampleStore::class)->add($tone, 'Short.wav')->hash;
        self::assertSame(422, self::ask('POST', "/library/$short/grid", ['do' => 'shift', 'seconds' => 1])->getStatusCode());
        self::assertSame(200, self::ask('POST', "/library/$short/grid", ['do' => 'tempo', 'bpm' => 120])->getStatusCode());
        self::assertSame([0], self::service(SampleStore::class)->find($short)?->lines());
        /** @var list<array<string, mixed>> $nonsenses */
        $nonsenses = [['do' => 'melt'], ['do' => 'move', 'beat' => 4], ['do' => 'move', 'beat' => 1, 'seconds' => -50], ['do' => 'taps', 'taps' => [1, 2]], ['do' => '']];
        foreach ($nonsenses as $nonsense) {
            self::assertSame(422, self::ask('POST', "/library/$hash/grid", $nonsense)->getStatusCode());
        }
        self::assertSame(422, self::ask('POST', "/library/$hash", ['grid' => '[90,[0,"x"]]'])->getStatusCode());
    }

    public function testBarsAreOfWhatTheMakerSays(): void
    {
        $hash = self::loop(96.0, 'Counted');
        $sample = static fn () => self::service(SampleStore::class)->find($hash) ?? self::fail('gone');
        self::assertSame(['4/4', 4], [$sample()->meter()->name(), $sample()->beatsABar()]);
        $bars = static fn (): array => (array) self::json(self::ask('GET', "/samples/$hash/cuts?division=bar"))['markers'];
        $begun = static fn (int $each): int => \count(array_filter(array_keys($sample()->lines()), static fn (int $beat): bool => 0 === $beat % $each));
        self::assertCount($begun(4), $bars());
        self::assertSame(['meter' => null], self::json(self::ask('POST', "/library/$hash", ['meter' => '2/4']))['before']);
        self::assertSame([2, 1.0], [$sample()->beatsABar(), $sample()->sure('meter')]);
        self::assertCount($begun(2), $bars());
        self::assertGreaterThan($begun(4), $begun(2));
        self::ask('POST', "/library/$hash", ['meter' => '3/4']);
        self::assertSame([3, $begun(3)], [$sample()->beatsABar(), \count($bars())]);
        $refused = self::ask('POST', "/library/$hash", ['meter' => '13/16']);
        self::assertSame([422, 'meter must be a meter. It is one of: 4/4, 2/4, 3/4, 5/4, 6/4, 7/4, 6/8, 7/8, 9/8, 12/8.'], [$refused->getStatusCode(), self::json($refused)['error']]);
        self::assertSame(['meter' => '3/4'], self::json(self::ask('POST', "/library/$hash", ['meter' => null]))['before']);
        self::assertSame(4, $sample()->beatsABar());
    }

    public function testCutsComeFromTheGridAndEqualParts(): void
    {
        $hash = self::loop(120.0, 'Cuts');
        $cuts = static fn (string $query): array => self::json(self::ask('GET', "/samples/$hash/cuts?$query"));
        self::assertSame(['markers' => [0, 58800, 117600], 'how' => 'equal'], $cuts('parts=3'));
        $beats = $cuts('division=1');
        self::assertSame('grid', $beats['how']);
        self::assertIsArray($beats['markers']);
        self::assertEqualsWithDelta([0, 22050, 44100], \array_slice($beats['markers'], 0, 3), 60);
        $half = $cuts('division=2&edits='.rawurlencode('[{"kind":"stretch","percent":50}]'));
        self::assertIsArray($half['markers']);
        self::assertEqualsWithDelta([0, 5512, 11025], \array_slice($half['markers'], 0, 3), 60);
        foreach (['parts=0', 'parts=9999', 'division=x', ''] as $nonsense) {
            self::assertSame(422, self::ask('GET', "/samples/$hash/cuts?$nonsense")->getStatusCode(), $nonsense);
        }
        // Clicks lie on the lines, notes are to be heard, the outline comes in tiles.
        self::assertNotSame(self::ask('GET', "/samples/$hash/sound")->getContent(), self::ask('GET', "/samples/$hash/sound?click=1")->getContent());
        self::assertGreaterThan(100_000, \strlen((string) self::ask('GET', '/notes/60,63,67')->getContent()));
        self::assertSame(404, self::ask('GET', '/notes/soup')->getStatusCode());
        self::assertSame([1 + 2 * 2757, 1], [\strlen((string) self::ask('GET', "/samples/$hash/outline/0/0")->getContent()), \strlen((string) self::ask('GET', "/samples/$hash/outline/0/1")->getContent())]);
        $frame = self::json(self::ask('GET', "/samples/$hash/snap?at=21000&to=grid"))['frame'];
        self::assertIsInt($frame);
        self::assertEqualsWithDelta(22050, $frame, 60);
    }

    public function testTheSameSoundInAnotherFileIsFound(): void
    {
        $hash = self::loop(88.0, 'First');
        $flac = Sounds::folder().'/again.flac';
        exec(\sprintf('ffmpeg -v error -y -i %s %s', escapeshellarg(self::service(SampleStore::class)->library()->path($hash)), escapeshellarg($flac)), $said, $status);
        self::assertSame(0, $status);
        $again = self::service(SampleStore::class)->add($flac, 'Again.flac');
        self::assertNotSame($hash, $again->hash);
        self::ask('POST', '/beats');
        $page = static fn (string $sample): string => (string) self::ask('GET', '/beats/'.self::lastBeat().'/gather?sample='.$sample)->getContent();
        self::assertStringContainsString('Sounds just like First.', $page($again->hash));
        self::assertStringNotContainsString('Sounds just like', $page(self::loop(89.0, 'Other')));
    }

    public function testTagsOfAFileAreRead(): void
    {
        $hash = self::loop(90.0, 'Plain');
        $tagged = Sounds::folder().'/tagged.mp3';
        exec(\sprintf('ffmpeg -v error -y -i %s -metadata TBPM=91 -metadata TKEY=Bbm %s', escapeshellarg(self::service(SampleStore::class)->library()->path($hash)), escapeshellarg($tagged)), $said, $status);
        self::assertSame(0, $status);
        $sample = self::service(SampleStore::class)->add($tagged, 'Tagged.mp3');
        self::assertSame([91.0, 'Bb minor', 1.0], [$sample->bpm(), $sample->key(), $sample->sure('bpm')]);
        self::assertFalse(self::service(SampleStore::class)->find($hash)?->isCorrected('bpm'));
    }

    public function testAStretchIsLiftedToASampleOfItsOwn(): void
    {
        $hash = self::loop(105.0, 'Whole');
        $edits = [['kind' => 'gain', 'db' => -6.0206]];
        $id = self::text(self::json(self::ask('POST', '/uploads/lifted', ['sample' => $hash, 'edits' => json_encode($edits), 'from' => 0, 'to' => 22050]))['id']);
        self::work();
        $state = self::json(self::ask('GET', "/uploads/$id"));
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        self::assertSame(['Whole lifted', 22050], [$state['sample']['name'], $state['sample']['frames']]);
        $library = self::service(SampleStore::class)->library();
        self::assertEqualsWithDelta(0.5, $library->open(self::text($state['sample']['hash']))->read(0, 22050)->peak() / $library->open($hash)->read(0, 22050)->peak(), 1e-4);
        self::assertSame(422, self::ask('POST', '/uploads/lifted', ['sample' => $hash, 'edits' => '[]', 'from' => 5, 'to' => 5])->getStatusCode());
        self::assertSame(404, self::ask('POST', '/uploads/lifted', ['sample' => str_repeat('0', 64), 'edits' => '[]', 'from' => 0, 'to' => 5])->getStatusCode());
        $order = self::json(self::ask('GET', "/samples/$hash/pitches?at=0,30000,60000"))['order'];
        self::assertIsArray($order);
        sort($order);
        self::assertSame([0, 1, 2], $order);
    }

    public function testPlacesToCutAtAreToldToThePage(): void
    {
        $hash = self::loop(120.0, 'Places');
        $near = self::json(self::ask('GET', "/samples/$hash/snap?at=21000&to=hit"))['frame'];
        self::assertIsInt($near);
        self::assertEqualsWithDelta(22050, $near, 300);
        self::assertSame(200, self::ask('GET', "/samples/$hash/snap?at=-5&to=zero")->getStatusCode());
        self::assertSame(['from', 'to'], array_keys(self::json(self::ask('GET', "/samples/$hash/sounding"))));
    }

    public function testALoopIsHeardAtTheBeatsTempo(): void
    {
        $hash = self::loop(100.0, 'Fitted');
        self::ask('POST', '/beats');
        self::make(['type' => 'set-tempo', 'bpm' => 125]);
        $sound = (string) self::ask('GET', "/samples/$hash/fitted?beat=".self::lastBeat())->getContent();
        preg_match('/"frames":(\d+)/', substr($sound, 0, 200), $m);
        self::assertEqualsWithDelta(2 * 240 / 125 * 44100, (int) ($m[1] ?? 0), 4);
        self::assertSame(404, self::ask('GET', "/samples/$hash/fitted?beat=9999")->getStatusCode());
    }

    public function testABeatAndOneOfItsChannelsBecomeSamples(): void
    {
        $hash = self::loop(90.0, 'Source');
        self::ask('POST', '/beats');
        $beat = self::lastBeat();
        self::make(['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $hash, 'name' => 'One', 'role' => 'tonal', 'start' => 0, 'end' => 40000]);
        self::make(['type' => 'fill-pad', 'pad' => 'a1', 'sample' => $hash, 'name' => 'Two', 'role' => 'bass', 'start' => 60000, 'end' => 90000]);
        self::make(['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 120], [1920, 'a1', 110]]]);
        self::make(['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => -20]);
        $made = [];
        foreach ([['what' => 'p1', 'wet' => 1], ['what' => 'p1', 'wet' => 1, 'channel' => 'c1'], ['what' => 'p1', 'wet' => 0, 'channel' => 'c1'], ['what' => 'beat', 'wet' => 1]] as $what) {
            $id = self::text(self::json(self::ask('POST', '/uploads/resampled', ['beat' => $beat, ...$what]))['id']);
            self::work();
            $state = self::json(self::ask('GET', "/uploads/$id"));
            self::assertSame('done', $state['state'], self::text($state['message']));
            self::assertIsArray($state['sample']);
            $made[] = self::service(SampleStore::class)->find(self::text($state['sample']['hash']));
        }
        self::assertSame(['Pattern 1', 'Pattern 1, One', 'Pattern 1, One', null], [$made[0]?->name, $made[1]?->name, $made[2]?->name, null]);
        self::assertEqualsWithDelta(20.0, ($made[2]->peakDb ?? 0) - ($made[1]->peakDb ?? 0), 0.2, 'dry leaves the fader out');
        self::assertGreaterThan($made[0]?->frames, $made[3]?->frames, 'the whole beat ends with its tail');
        self::assertSame(422, self::ask('POST', '/uploads/resampled', ['beat' => $beat, 'what' => 'p1', 'wet' => 1, 'channel' => 'c77'])->getStatusCode());
        self::assertSame(404, self::ask('POST', '/uploads/resampled', ['beat' => 999, 'what' => 'p1', 'wet' => 1])->getStatusCode());
    }

    /** Two bars of kick, shaker and snare. */
    private static function loop(float $bpm, string $name): string
    {
        $kit = new DrumVoices(44100);
        $length = (int) round(2 * 240 / $bpm * 44100);
        $mix = array_fill(0, $length, 0.0);
        for ($i = 0; $i < 16; ++$i) {
            $sound = [$kit->kick(), $kit->shaker(), $kit->snare(), $kit->shaker()][$i % 4];
            foreach ($sound->left as $n => $x) {
                $at = (int) round($i * 30 / $bpm * 44100) + $n;
                if ($at < $length) {
                    $mix[$at] += 0.5 * $x;
                }
            }
        }
        $path = Sounds::folder().'/loop.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        $mix = array_values($mix);
        $writer->write(new StereoBlock($mix, $mix));
        $writer->close();

        return self::service(SampleStore::class)->add($path, $name.'.wav')->hash;
    }

    /**
     * @param array<mixed> $fields
     *
     * @return array<array-key, mixed>
     */
    private static function step(string $hash, array $fields): array
    {
        return self::json(self::ask('POST', "/library/$hash/grid", json_encode($fields, \JSON_THROW_ON_ERROR)));
    }

    private static function lastBeat(): int
    {
        return (int) self::service(\Pestle\App\Storage\Beats::class)->all()[0]->id;
    }

    /** @param array<string, mixed> $fields */
    private static function make(array $fields): void
    {
        $record = self::service(\Pestle\App\Storage\Beats::class)->find(self::lastBeat());
        $answer = self::change(self::lastBeat(), $record->head ?? 0, $fields);
        self::assertSame(200, $answer->getStatusCode(), (string) $answer->getContent());
    }
}
