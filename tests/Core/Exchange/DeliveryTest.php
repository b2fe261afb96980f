<?php

namespace Pestle\Tests\Core\Exchange;

use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Audio\Looped;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavChunks;
use Pestle\Core\Audio\WavMarks;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\SongBars;
use Pestle\Core\Exchange\DeliveryLevel;
use Pestle\Core\Exchange\DeliveryNames;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Exchange\LevelKind;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Exchange\StemProof;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SongPlaces;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Decibels;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DeliveryTest extends TestCase
{
    /** @return iterable<string, array{SampleFormat, bool, float}> */
    public static function formats(): iterable
    {
        yield '24 bit' => [SampleFormat::Int24, false, 0.0];
        yield 'float' => [SampleFormat::Float32, true, 0.0];
        yield '16 bit with dither' => [SampleFormat::Int16, true, 9.0];
    }

    #[DataProvider('formats')]
    public function testDeliveredStemsAddUpToTheDeliveredMix(SampleFormat $format, bool $dither, float $most): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = $beats->beat(6);
        $out = Sounds::folder();
        $order = new DeliveryOrder('p1', true, $format, StemGrouping::Pad, $dither);
        $told = [];
        $made = (new DeliveryWriter(new SampleLibrary($beats->folder)))->write($beat, $order, $out.'/mix.wav', $out, static function (float $p) use (&$told): bool {
            $told[] = $p;

            return true;
        });
        self::assertNotNull($made);
        self::assertSame($beat->tempo->frames(3840, 44100), $made->frames);
        foreach ($made->paths as $path) {
            self::assertSame($made->frames, SoundFile::open($path)->frames());
        }
        self::assertGreaterThan(2, \count($made->paths));
        self::assertLessThanOrEqual(5, \count($made->paths) - 1);
        $proof = StemProof::of($made->paths, $order);
        self::assertTrue($proof->holds(), $proof->sentence());
        self::assertLessThanOrEqual($most, $proof->largest);
        self::assertSame($told, array_values(array_filter($told, static fn (float $p): bool => $p > 0 && $p <= 1)));
        self::assertSame([], glob($out.'/*.part'));

        // A proof that can't fail proves nothing: a missing stem is found.
        $without = StemProof::of([$made->paths[0], ...\array_slice($made->paths, 2)], $order);
        self::assertFalse($without->holds());
        self::assertStringContainsString('differ from the mix', $without->sentence());
    }

    /** What is delivered says its tempo, its key and its loudness, where it goes round and where its sections begin, in chunks that others read. */
    public function testFilesSayWhatTheyAre(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = RandomBeats::changed($beats->beat(6), [['type' => 'set-key', 'key' => 'D minor'], ['type' => 'add-section', 'id' => 's2', 'name' => 'Öffnung', 'copyOf' => 's1'], ['type' => 'set-section', 'section' => 's1', 'bars' => 1], ['type' => 'set-song', 'sections' => ['s1', 's2', 's1']]]);
        $out = Sounds::folder();
        $writer = new DeliveryWriter(new SampleLibrary($beats->folder));
        $loop = $writer->write($beat, new DeliveryOrder('p1', true, SampleFormat::Int16, StemGrouping::Channel), $out.'/Loop - mix.wav', $out, static fn (): bool => true);
        self::assertNotNull($loop);
        foreach ($loop->paths as $path) {
            self::assertSame([0, $loop->frames], WavMarks::in($path)->loop);
            self::assertSame([], SoundFile::open($path)->repairs);
            self::assertSame(pack('V', (int) filesize($path) - 8), file_get_contents($path, false, null, 4, 4), 'its header says how long it is');
        }
        $bext = WavChunks::of($loop->paths[0], 'bext')['bext'];
        self::assertSame(602, \strlen($bext));
        self::assertStringStartsWith('Loop - mix - '.$beat->tempo->bpm.' BPM, D minor, '.$beat->meter->name(), $bext);
        /** @var array{lufs: int, range: int, peak: int} $said */
        $said = unpack('vlufs/vrange/vpeak', $bext, 412);
        $measured = Loudness::of(SoundFile::open($loop->paths[0]));
        self::assertEqualsWithDelta($measured->integratedLufs, ($said['lufs'] - 65_536) / 100, 0.02);
        self::assertEqualsWithDelta($measured->truePeakDb, ($said['peak'] > 32_767 ? $said['peak'] - 65_536 : $said['peak']) / 100, 0.1);
        self::assertSame(0x7FFF, (unpack('vlufs', WavChunks::of($loop->paths[1], 'bext')['bext'], 412) ?: [])['lufs'] ?? 0, 'of a stem nobody measures');
        $song = $writer->write($beat, new DeliveryOrder(), $out.'/Song.wav', $out, static fn (): bool => true);
        self::assertNotNull($song);
        $bars = static fn (int $bar): int => SongPlaces::frameOf($beat, $bar * $beat->meter->barTicks());
        self::assertSame(3, \count(WavMarks::in($song->paths[0])->cues));
        self::assertSame([0, $bars(1)], \array_slice(WavMarks::in($song->paths[0])->cues, 0, 2));
        exec('ffprobe -v error -show_entries format_tags -of json '.escapeshellarg($song->paths[0]), $told);
        $tags = (array) ((array) ((array) json_decode(implode('', $told), true))['format'])['tags'];
        self::assertSame(['Song', 'Pestle'], [$tags['title'] ?? '', $tags['encoder'] ?? $tags['originator'] ?? '']);
        self::assertStringContainsString('Öffnung', (string) file_get_contents($song->paths[0]));
    }

    /** Bars of the song are what the song is there, to the bit; what is cut at its end is what rings on but for its tail. */
    public function testBarsOfTheSongAreCutOutOfIt(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = RandomBeats::changed($beats->beat(6), [['type' => 'set-section', 'section' => 's1', 'bars' => 3], ['type' => 'add-section', 'id' => 's2', 'name' => 'Other', 'copyOf' => 's1'], ['type' => 'set-section', 'section' => 's2', 'bars' => 2, 'meter' => '3/4'], ['type' => 'set-song', 'sections' => ['s1', 's2', 's1']]]);
        $whole = self::delivered($beats, $beat, ['what' => 'beat', 'stems' => 'channel']);
        $bars = SongBars::of($beat);
        self::assertCount(8, $bars->starts);
        self::assertSame(3 * 3840 + 2880, $bars->starts[4], 'Each bar is as long as its section has them.');
        foreach ([[1, 1], [4, 6], [2, 8]] as [$from, $to]) {
            $some = self::delivered($beats, $beat, ['what' => 'bars', 'fromBar' => $from, 'toBar' => $to, 'stems' => 'channel']);
            $at = SongPlaces::frameOf($beat, $bars->starts[$from - 1]);
            $frames = SongPlaces::frameOf($beat, $bars->starts[$to] ?? $bars->end) - $at;
            foreach ($some as $name => $sound) {
                self::assertSame($frames, $sound->frames());
                self::assertSame($whole[$name]->slice($at, $frames)->left, $sound->left, $name);
            }
        }
        $cut = self::delivered($beats, $beat, ['what' => 's1', 'loop' => 'cut']);
        $rings = self::delivered($beats, $beat, ['what' => 's1']);
        self::assertSame($beat->tempo->frames(3 * 3840, 44100), $cut['mix.wav']->frames());
        self::assertGreaterThan($cut['mix.wav']->frames(), $rings['mix.wav']->frames());
        self::assertSame($cut['mix.wav']->right, $rings['mix.wav']->slice(0, $cut['mix.wav']->frames())->right);
        // Round and round they are a loop of the song.
        self::assertSame($frames, self::delivered($beats, $beat, ['what' => 'bars', 'fromBar' => 2, 'toBar' => 8, 'loop' => '1'])['mix.wav']->frames());
        foreach ([[0, 1], [3, 2], [1, 9]] as [$from, $to]) {
            try {
                self::delivered($beats, $beat, ['what' => 'bars', 'fromBar' => $from, 'toBar' => $to]);
                self::fail("Bars $from to $to are not there.");
            } catch (InvalidChange $e) {
                self::assertMatchesRegularExpression('/from 1 to 8|fromBar/', $e->getMessage());
            }
        }
    }

    /** What is silent before the first sound and after the last is left away in all files alike, at any rate; the mix may be left out. */
    public function testSilenceIsTrimmed(): void
    {
        $folder = Sounds::folder();
        $beats = new RandomBeats($folder);
        $hash = Sounds::put($folder, Sounds::hit(5, 6000, 0.5));
        $fill = static fn (string $pad): array => ['type' => 'fill-pad', 'pad' => $pad, 'sample' => $hash, 'name' => 'Pad '.$pad, 'role' => 'tonal', 'start' => 0, 'end' => 6000];
        $beat = RandomBeats::changed(Beat::empty('Late'), [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 4], $fill('a0'), $fill('a1'), ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[3840, 'a0', 100], [7680, 'a1', 100]]]]);
        $order = ['what' => 'p1', 'stems' => 'pad', 'format' => '32f'];
        $whole = self::delivered($beats, $beat, $order);
        $trimmed = self::delivered($beats, $beat, [...$order, 'trim' => true]);
        self::assertSame(array_keys($whole), array_keys($trimmed));
        $heard = array_keys(array_filter($whole['mix.wav']->left, static fn (float $x): bool => abs($x) >= 1 / 65_536));
        self::assertEqualsWithDelta($beat->tempo->frames(3840, 44100), $heard[0], 200);
        [$from, $frames] = [$heard[0], end($heard) - $heard[0] + 1];
        foreach ($trimmed as $name => $sound) {
            self::assertSame($frames, $sound->frames(), $name);
            self::assertSame($whole[$name]->slice($from, $frames)->left, $sound->left, $name);
        }
        self::assertSame(['01 Pad a0 - 90 BPM.wav', '02 Pad a1 - 90 BPM.wav'], array_keys(self::delivered($beats, $beat, [...$order, 'mix' => false, 'rate' => 48000, 'trim' => true])));
        self::assertSame(['02 Pad a1 - 90 BPM.wav'], array_keys(self::delivered($beats, $beat, [...$order, 'mix' => false, 'leave' => '{"0":"Pad a0"}'])));
        foreach ([['mix' => false, 'stems' => 'none', 'what' => 'p1', 'format' => '16'], ['what' => 'p1', 'stems' => 'none', 'format' => '16', 'trim' => true]] as $i => $nothing) {
            try {
                self::delivered($beats, 0 === $i ? $beat : RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'take' => [[3840, 'a0'], [7680, 'a1']], 'hits' => []]]), $nothing);
                self::fail('Nothing would be left.');
            } catch (InvalidChange $e) {
                self::assertMatchesRegularExpression('/mix is the only file|nothing to be heard/', $e->getMessage());
            }
        }
    }

    /**
     * @param array<string, string|bool|int> $settings
     *
     * @return array<string, StereoBlock> by the names of the files
     */
    private static function delivered(RandomBeats $beats, Beat $beat, array $settings): array
    {
        $out = Sounds::folder();
        $made = (new DeliveryWriter(new SampleLibrary($beats->folder)))->write($beat, DeliveryOrder::from(new Fields($settings + ['format' => '24', 'stems' => 'none'])), $out.'/mix.wav', $out, static fn (): bool => true);
        $sounds = [];
        foreach ($made->paths ?? [] as $path) {
            $sounds[basename($path)] = Sounds::whole(SoundFile::open($path));
        }
        self::assertSame(\count($sounds), \count(glob($out.'/*') ?: []), 'Nothing else lies there.');

        return $sounds;
    }

    public function testStemsAboveFullScaleFitWhenAllIsLowered(): void
    {
        // Two pads that nearly cancel each other: the mix is quiet, each alone is far too loud.
        $folder = Sounds::folder();
        $sound = Sounds::hit(9, 4000, 0.9);
        $turned = new StereoBlock(array_map(static fn (float $x): float => -$x, $sound->left), array_map(static fn (float $x): float => -$x, $sound->right));
        $changes = [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1]];
        foreach ([$sound, $turned] as $i => $block) {
            $changes[] = ['type' => 'fill-pad', 'pad' => 'a'.$i, 'sample' => Sounds::put($folder, $block), 'name' => 'Side '.$i, 'role' => 'tonal', 'start' => 0, 'end' => 4000];
            $changes[] = ['type' => 'set', 'under' => 'mixer/c'.($i + 1), 'gainDb' => 6 - 0.5 * $i];
        }
        $changes[] = ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 127], [0, 'a1', 127]]];
        $beat = RandomBeats::changed(Beat::empty('Turned'), $changes);
        $deliver = static function (int $lower, SampleFormat $format) use ($beat, $folder): array {
            $out = Sounds::folder();
            $made = (new DeliveryWriter(new SampleLibrary($folder)))->write($beat, $order = new DeliveryOrder('p1', false, $format, StemGrouping::Channel, false, $lower), $out.'/mix.wav', $out, static fn (): bool => true);
            self::assertNotNull($made);

            return [$made, StemProof::of($made->paths, $order)];
        };
        [$made, $proof] = $deliver(0, SampleFormat::Int24);
        self::assertSame(['Side 0', 'Side 1'], $made->clipped);
        self::assertFalse($proof->holds());
        $over = $made->overDb();
        self::assertEqualsWithDelta(6.0 + Decibels::fromGain(max($sound->peak(), $turned->peak())), $over, 1.0);
        foreach ([SampleFormat::Int24, SampleFormat::Int16, SampleFormat::Float32] as $format) {
            [$lowered, $proof] = $deliver($over, $format);
            self::assertSame([[], 0], [$lowered->clipped, $lowered->overDb()]);
            self::assertTrue($proof->holds(), $proof->sentence());
        }
        // One dB less would not have been enough, and what is lowered is lowered by what was asked for.
        self::assertSame(1, $deliver($over - 1, SampleFormat::Int24)[0]->overDb());
        $loud = SoundFile::open($deliver(0, SampleFormat::Float32)[0]->paths[1])->read(0, 4000);
        $quiet = SoundFile::open($deliver(6, SampleFormat::Float32)[0]->paths[1])->read(0, 4000);
        self::assertEqualsWithDelta(6.0, Decibels::fromGain($loud->peak()) - Decibels::fromGain($quiet->peak()), 0.001);
    }

    /** @return iterable<string, array{DeliveryOrder}> */
    public static function stopped(): iterable
    {
        yield 'as it is' => [new DeliveryOrder('p1', grouping: StemGrouping::Channel)];
        yield 'at another rate' => [new DeliveryOrder('p1', grouping: StemGrouping::Channel, rate: 48000)];
        yield 'while it is measured' => [new DeliveryOrder('p1', grouping: StemGrouping::Channel, level: new DeliveryLevel(LevelKind::Peak, -3.0))];
    }

    #[DataProvider('stopped')]
    public function testACancelledDeliveryLeavesNothing(DeliveryOrder $order): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $out = Sounds::folder();
        $made = (new DeliveryWriter(new SampleLibrary($beats->folder)))->write($beats->beat(2), $order, $out.'/mix.wav', $out, static fn (float $p): bool => $p < 0.2);
        self::assertNull($made);
        self::assertSame([], glob($out.'/*'));
    }

    /** @return iterable<string, array{int, SampleFormat, bool}> */
    public static function rates(): iterable
    {
        yield '48 kHz, 24 bit' => [48000, SampleFormat::Int24, false];
        yield '88.2 kHz, float' => [88200, SampleFormat::Float32, false];
        yield '96 kHz, 16 bit with shaped dither' => [96000, SampleFormat::Int16, true];
    }

    /** At other rates it is the same music: as long, in tune, its loop without a seam, its stems still add up, its places where they were. */
    #[DataProvider('rates')]
    public function testOtherRatesAreTheSameMusic(int $rate, SampleFormat $format, bool $shaped): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $deliver = static function (DeliveryOrder $order) use ($beats): array {
            $out = Sounds::folder();
            $made = (new DeliveryWriter(new SampleLibrary($beats->folder)))->write($beats->beat(6), $order, $out.'/mix.wav', $out, static fn (): bool => true);
            self::assertNotNull($made);

            return [$made, $order, glob($out.'/*') ?: []];
        };
        [$made, $order, $files] = $deliver(new DeliveryOrder('p1', true, $format, StemGrouping::Channel, $shaped, rate: $rate, shaped: $shaped));
        self::assertCount(\count($made->paths), $files, 'what was written first is gone');
        $mix = SoundFile::open($made->paths[0]);
        self::assertSame([$rate, (int) round($made->frames * $rate / 44100)], [$mix->sampleRate(), $mix->frames()]);
        $proof = StemProof::of($made->paths, $order);
        self::assertTrue($proof->holds(), $proof->sentence());
        self::assertFalse(StemProof::of([$made->paths[0], ...\array_slice($made->paths, 2)], $order)->holds());
        // Taken back to 44.1 kHz, it is what is delivered there: below 15 kHz and away from the ends of the loop.
        $plain = Sounds::whole(SoundFile::open($deliver(new DeliveryOrder('p1', true, SampleFormat::Float32))[0]->paths[0]));
        $back = Resampled::toRate(new Looped($mix), 44100)->read(0, $plain->frames());
        $low = Biquad::lowPass(15000, 0.71, 44100);
        [$wanted, $got] = [$low->filter($plain->left), $low->filter($back->left)];
        $power = 0.0;
        foreach ($wanted as $i => $x) {
            $power += ($x - $got[$i]) ** 2;
        }
        $off = Decibels::fromGain(sqrt($power / max(1e-12, array_sum(array_map(static fn (float $x): float => $x * $x, $wanted)))));
        self::assertLessThan($shaped ? -55.0 : -70.0, $off);
        // It goes round: what follows its end is its start.
        self::assertSame([0, $mix->frames()], WavMarks::in($made->paths[0])->loop);
    }

    /** Made as loud as asked for, by one gain for all; where peaks leave no room, less and told. */
    public function testItsLevelIsAsAskedFor(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $deliver = static function (DeliveryLevel $level) use ($beats): array {
            $out = Sounds::folder();
            $made = (new DeliveryWriter(new SampleLibrary($beats->folder)))->write($beats->beat(4), $order = new DeliveryOrder('p1', false, SampleFormat::Float32, StemGrouping::Channel, level: $level), $out.'/mix.wav', $out, static fn (): bool => true);
            self::assertNotNull($made);
            $proof = StemProof::of($made->paths, $order);
            self::assertTrue($proof->holds(), $proof->sentence());

            return [Loudness::of(SoundFile::open($made->paths[0])), $made->level];
        };
        [$plain, $said] = $deliver(new DeliveryLevel());
        self::assertSame('', $said);
        [$peak, $said] = $deliver(new DeliveryLevel(LevelKind::Peak, -3.0));
        self::assertEqualsWithDelta(-3.0, $peak->truePeakDb, 0.02);
        self::assertStringContainsString('to -3.0 dBTP.', $said);
        $target = round($plain->integratedLufs - 4.0, 1);
        [$quiet, $said] = $deliver(new DeliveryLevel(LevelKind::Loudness, $target));
        self::assertEqualsWithDelta($target, $quiet->integratedLufs, 0.05);
        self::assertSame(\sprintf('Lowered by %.1f dB to %.1f LUFS.', $plain->integratedLufs - $target, $target), $said);
        [$loud, $said] = $deliver(new DeliveryLevel(LevelKind::Loudness, -5.0));
        self::assertLessThanOrEqual(-0.98, $loud->truePeakDb);
        self::assertLessThan(-5.05, $loud->integratedLufs);
        self::assertStringContainsString('so it is not made as loud as -5.0 LUFS', $said);
        // What is over the ceiling already stays there: nobody asked for less.
        self::assertSame(0.0, (new DeliveryLevel(LevelKind::Loudness, -5.0))->gainDb(-9.0, 0.5));
        self::assertSame(0.0, (new DeliveryLevel(LevelKind::Peak, -1.0))->gainDb(-\INF, -\INF));
    }

    public function testFilesTellPartTempoAndKey(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Kettle / Steam: "one"'), [['type' => 'set-tempo', 'bpm' => 86], ['type' => 'set-key', 'key' => 'D minor']]);
        self::assertSame('Kettle Steam one - mix - 86 BPM - D minor.wav', DeliveryNames::mix($beat, $beat->name));
        self::assertSame('03 Tin snare - 86 BPM - D minor.wav', DeliveryNames::stem($beat, 3, 'Tin snare'));
        self::assertSame('One two - 120.5 BPM.zip', DeliveryNames::archive(RandomBeats::changed($beat, [['type' => 'set-tempo', 'bpm' => 120.5], ['type' => 'set-key']]), 'One two'));
    }

    public function testAnOrderIsRead(): void
    {
        $order = DeliveryOrder::from(new Fields(['what' => 'p1', 'loop' => '1', 'format' => '16', 'stems' => 'pad', 'dither' => '1']));
        self::assertEquals(new DeliveryOrder('p1', true, SampleFormat::Int16, StemGrouping::Pad, true), $order);
        self::assertSame(9, DeliveryOrder::from(new Fields(['what' => 'beat', 'format' => '24', 'stems' => 'none', 'lowerDb' => '9']))->lowerDb);
        $all = DeliveryOrder::from(new Fields(['what' => 'p1', 'format' => '16', 'stems' => 'none', 'dither' => 'shaped', 'rate' => '48000', 'level' => 'loudness', 'lufs' => '-14', 'peak' => '']));
        self::assertEquals(new DeliveryOrder('p1', false, SampleFormat::Int16, StemGrouping::None, true, rate: 48000, shaped: true, level: new DeliveryLevel(LevelKind::Loudness, -14.0)), $all);
        foreach ([['rate', ['rate' => '22050']], ['peak', ['level' => 'peak', 'peak' => '3']], ['lufs', ['level' => 'loudness']], ['level', ['level' => 'wild']]] as [$field, $wrong]) {
            try {
                DeliveryOrder::from(new Fields(['what' => 'p1', 'format' => '16', 'stems' => 'none', ...$wrong]));
                self::fail($field);
            } catch (InvalidChange $e) {
                self::assertStringStartsWith($field.' must be', $e->getMessage());
            }
        }
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('format must be one of: 16, 24, 32f.');
        DeliveryOrder::from(new Fields(['what' => 'beat', 'format' => '8', 'stems' => 'none']));
    }
}
