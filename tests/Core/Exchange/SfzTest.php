<?php

namespace Pestle\Tests\Core\Exchange;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavMarks;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Exchange\Sfz\Reading;
use Pestle\Core\Exchange\Sfz\Unreadable;
use Pestle\Core\Exchange\Sfz\Writing;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Role;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Kits and instruments from the open SFZ format and back into it. */
final class SfzTest extends TestCase
{
    public function testAKitWithIncludesDefinesAndEitherSlash(): void
    {
        $files = [
            'bank.sfz' => "/* A kit\nof many files */\n#define \$DIR Drums\\\\raw\n#define \$DIRECT 1\n<control> default_path=\$DIR/ note_offset=12\n<global> ampeg_release=0.5 loop_mode=one_shot\n#include \"parts/kick.sfz\"\n<group> key=c#1 seq_length=3 // in turn\n<region> seq_position=2 sample=snare two.wav\n<region> seq_position=1 sample=snare one.wav\n<region> seq_position=3 sample=wide\\..\\snare three.wav pan=-50 volume=-3.5\n<group> group=1 off_by=1\n<region> key=30 sample=hat closed.wav <region> key=34 sample=open-hat.wav cutoff=8000 fil_type=hpf_4p resonance=6.02 magic_dust=17\n",
            'parts/kick.sfz' => "<group> key=24 amp_veltrack=75\n<region> sample=kick_soft.wav hivel=63\n<region> sample=kick_hard.wav lovel=64 tune=-20 transpose=2 offset=10 end=499\n",
        ];
        [$sheet, $told] = Reading::of('bank.sfz', static fn (string $path): ?string => $files[$path] ?? null);
        self::assertNull($sheet->keys);
        // From C2 on each keeps its place: keys 36, 37, 42, 46.
        self::assertSame(['a0', 'a1', 'a6', 'a10'], array_keys($sheet->pads));
        [$kick, $snare, $hat, $open] = array_values($sheet->pads);
        self::assertSame([Role::Kick, Role::Snare, Role::Hat, Role::OpenHat], array_column($sheet->pads, 'role'));
        self::assertSame([Answer::Strength, 1.5, PlayMode::OneShot, 500.0], [$kick->answer, $kick->strength, $kick->mode, $kick->treatment->amp->releaseMs]);
        self::assertEquals(new Layer('kick_hard', 'Drums/raw/kick_hard.wav', 10, 500, tuneCents: 180, low: 64), $kick->layers[1]);
        self::assertSame([Answer::Turn, ['snare one', 'snare two', 'snare three'], 'Drums/raw/snare three.wav', -0.5, -3.5], [$snare->answer, array_column($snare->layers, 'name'), $snare->layers[2]->sample, $snare->layers[2]->pan, $snare->layers[2]->levelDb]);
        self::assertSame([1, 1, 0], [$hat->choke, $open->choke, $kick->choke]);
        $filter = $open->treatment->filter;
        self::assertSame([FilterShape::High, true, 8000.0, 0.2], [$filter->shape, $filter->steep, $filter->cutoffHz, $filter->resonance]);
        self::assertSame(['magic_dust' => '17'], $open->main()->kept);
        self::assertSame(['magic_dust is not known here, and kept as it is'], $told);
    }

    public function testAnInstrumentWithZones(): void
    {
        $text = "<group> loop_mode=loop_sustain polyphony=8 ampeg_attack=0.01 ampeg_decay=1.5 ampeg_sustain=40 pitchlfo_freq=5 pitchlfo_depth=12 fileg_depth=2400 cutoff=900\n"
            ."<region> sample=C3.wav lokey=0 hikey=54 pitch_keycenter=c3 loop_start=100 loop_end=899\n<region> sample=C4.wav lokey=55 hikey=66 pitch_keycenter=60 tune=7 hivel=80\n<region> sample=C4 hard.wav lokey=55 hikey=66 lovel=81\n<region> sample=*saw lokey=67 hikey=80\n<region> sample=off.wav trigger=release key=60\n<region> sample=noise.wav key=60 locc64=64\n";
        [$sheet, $told] = Reading::of('Vibes.sfz', static fn (string $path): string => $text);
        $keys = $sheet->keys;
        self::assertNotNull($keys);
        self::assertSame([[4800, 0, 54], [6000, 55, 66], [6000, 55, 66]], array_map(static fn ($z): array => [$z->rootCents, $z->lowKey, $z->highKey], $keys->zones));
        self::assertSame([100, 900, 7, 80, 81], [$keys->main()?->sound->loopStart, $keys->main()?->sound->loopEnd, $keys->zones[1]->sound->tuneCents, $keys->zones[1]->sound->high, $keys->zones[2]->sound->low]);
        self::assertSame([8, Answer::Strength, 10.0, 0.4, LfoTarget::Pitch, 2400.0], [$keys->voices, $keys->answer, $keys->treatment->amp->attackMs, $keys->treatment->amp->sustain, $keys->treatment->lfo1->target, $keys->treatment->filter->envelopeCents]);
        self::assertSame(['C4 hard'], array_map(static fn ($z): string => $z->sound->name, $keys->answering(62, 100)));
        self::assertSame([], $keys->answering(70, 100));
        self::assertSame(['the generated sound *saw cannot be played', 'sounds with trigger=release are left out', 'sounds for other positions of controllers are left out'], $told);
    }

    /** Several headers <control> hold for what follows each; several definitions stand on a line; groups add to levels. */
    public function testWhatStandsAboveHoldsForWhatFollows(): void
    {
        $text = "<control> default_path=a/ note_offset=1\n<region> key=36 sample=one.wav\n<control> default_path=b/ note_offset=0 set_cc20=127\n#define \$X 40 #define \$Y 41\n<group> group_volume=-6\n<region> key=\$X volume=1 sample=two.wav\n<region> key=\$Y sample=three.wav volume_oncc20=3 pan_oncc21=50\n<region> key=42 sample=four.wav locc7=101\n<region> key=43 sample=five.wav locc11=127\n<region> key=44 sample=six.wav lochan=2\n<region> key=45 sample=seven.wav lobend=100\n<region> key=z9 sample=eight.wav\n<region> key=200 sample=nine.wav\n";
        [$sheet, $told] = Reading::of('Levels.sfz', static fn (string $path): string => $text);
        $sounds = array_values(array_map(static fn ($p): array => [$p->main()->sample, $p->main()->levelDb], $sheet->pads));
        self::assertSame([['a/one.wav', 0.0], ['b/two.wav', -5.0], ['b/three.wav', -3.0], ['b/five.wav', -6.0]], $sounds);
        self::assertSame(['a1', 'a4', 'a5', 'a7'], array_keys($sheet->pads));
        foreach (['volume_oncc20 moves volume: it is set to where that controller stands', 'pan_oncc21 is left out: no controller moves pan here', 'sounds for other positions of controllers are left out', 'sounds for other channels are left out', 'sounds for other positions of the bend wheel are left out', 'key=z9 is no key: its sound is left out', 'key=200 is no key: its sound is left out'] as $line) {
            self::assertContains($line, $told);
        }
        self::assertCount(7, $told);
    }

    /** Whatever is done otherwise here is said by its name. */
    public function testWhatComesOutOtherwiseIsTold(): void
    {
        $text = "<group> key=36 seq_length=2\n<region> seq_position=1 sample=near 1.wav\n<region> seq_position=1 sample=far 1.wav\n<region> seq_position=2 sample=near 2.wav\n<region> seq_position=2 sample=far 2.wav\n<group> key=38\n<region> lorand=0 hirand=0.2 sample=a.wav\n<region> lorand=0.2 hirand=0.7 sample=b.wav\n<group>\n<region> key=40 phase=invert sample=c.wav delay=5 amp_veltrack=-50\n<region> key=41 sample=d.wav fil_type=lpf_6p cutoff=900 off_mode=normal\n";
        [$sheet, $told] = Reading::of('Told.sfz', static fn (string $path): string => $text);
        self::assertSame([['near 1', 'near 2'], ['a', 'b']], [array_column($sheet->pads['a0']->layers, 'name'), array_column($sheet->pads['a2']->layers, 'name')]);
        foreach (['of sounds that answer together within a turn the first is taken', 'unequal chances become equal', 'chances that no sound answers are shared by those that are there', 'phase=invert is left out', 'delay beyond 2 s is set to that', 'amp_veltrack below 0: harder strikes are not softer here', 'fil_type=lpf_6p falls by 12 or 24 dB an octave here', 'off_mode=normal is left out'] as $line) {
            self::assertContains($line, $told);
        }
        // Key switches without one that is on at first: the first is.
        $switched = "<global> sw_lokey=24 sw_hikey=25\n<group> sw_last=24\n<region> key=60 sample=low.wav\n<group> sw_last=25\n<region> key=60 sample=high.wav\n<region> key=61 sample=other.wav\n";
        [$sheet, $told] = Reading::of('Switched.sfz', static fn (string $path): string => $switched, 'kit');
        self::assertSame(['low'], array_column($sheet->sounds(), 'name'));
        self::assertSame(['sounds behind key switches are left out, but for those that are on at first (2 times)'], $told);
    }

    public function testLoopsAndRootsOfFilesAreUsed(): void
    {
        $text = "<region> lokey=0 hikey=60 pitch_keycenter=sample sample=a.wav loop_mode=loop_continuous loop_start=200\n<region> lokey=61 hikey=127 pitch_keycenter=sample sample=b.wav group=1\n";
        [$sheet, $told] = Reading::of('Roots.sfz', static fn (string $path): string => $text, 'keys', null, static fn (string $path): ?int => 'a.wav' === $path ? 57 : null);
        $zones = $sheet->keys->zones ?? [];
        self::assertSame([5700, 6000], array_column($zones, 'rootCents'));
        self::assertSame(200, $zones[0]->sound->loopStart);
        self::assertContains('group of an instrument is left out: its notes do not silence one another', $told);
    }

    /** Pads go back to the keys they came on; what is new, or wants a key that is taken, gets one that is free. */
    public function testPadsKeepTheirKeys(): void
    {
        $text = '';
        foreach ([35, 38, 42, 60, 99] as $key) {
            $text .= "<region> key=$key sample=$key.wav end=99\n";
        }
        [$sheet] = Reading::of('Keys.sfz', static fn (string $path): string => $text);
        self::assertSame(['a0', 'a1', 'a2', 'a3', 'a4'], array_keys($sheet->pads));
        $keys = static function (KitSheet $sheet): array {
            preg_match_all('/^key=(\d+)/m', Writing::of($sheet, [])[0], $found);
            self::assertStringNotContainsString(' key=', Writing::of($sheet, [])[0]);

            return array_map(intval(...), $found[1]);
        };
        self::assertSame([35, 38, 42, 60, 99], $keys($sheet));
        // A copy of the first wants its key too; a new one would lie where another does.
        $copied = new KitSheet('Copied', $sheet->banks, [...$sheet->pads, 'a5' => new Pad('a5', 'Copy', Role::Kick, 'none', $sheet->pads['a0']->layers), 'a6' => new Pad('a6', 'New', Role::Kick, 'none', [new Layer('New', 'x.wav', 0, 9)])]);
        self::assertSame([35, 38, 42, 60, 99, 41, 36], $keys($copied));
        // From C2 on places tell the keys, and nothing is kept.
        [$usual] = Reading::of('Usual.sfz', static fn (string $path): string => "<region> key=36 sample=a.wav end=9\n<region> key=51 sample=b.wav end=9\n");
        self::assertSame([[], []], array_values(array_map(static fn (Pad $p): array => $p->main()->kept, $usual->pads)));
        self::assertSame([36, 51], $keys($usual));
    }

    /** Forty strengths on a key, and more than can be: all that is cut off is told. */
    public function testManyStrengthsAnswer(): void
    {
        $regions = static fn (int $count): string => implode('', array_map(static fn (int $i): string => \sprintf("<region> key=36 lovel=%d hivel=%d sample=%d.wav end=9\n", 1 + intdiv(127 * $i, $count), intdiv(127 * ($i + 1), $count), $i), range(0, $count - 1)));
        [$sheet, $told] = Reading::of('Forty.sfz', static fn (string $path): string => $regions(40));
        self::assertCount(40, $sheet->pads['a0']->layers);
        self::assertSame([], $told);
        foreach (range(1, 127) as $velocity) {
            self::assertCount(1, $sheet->pads['a0']->answering($velocity));
        }
        [, $told] = Reading::of('Hundred.sfz', static fn (string $path): string => $regions(100));
        self::assertSame(['a pad holds at most 64 sounds: of key 36 the first are taken', 'strikes of key 36 harder than 81 are answered by no sound'], $told);
    }

    /** What the format carries comes back as it was; what it cannot is told. */
    public function testAKitGoesOutAndComesBack(): void
    {
        $text = "<group> key=36 loop_mode=one_shot ampeg_attack=0.02 ampeg_decay=0.3 ampeg_sustain=20 cutoff=1200 fil_type=bpf_2p fil_veltrack=2400 pitcheg_depth=700 pitcheg_decay=0.05 amplfo_freq=3 amplfo_depth=4\n<region> lovel=1 hivel=60 sample=a.wav end=999\n<region> lovel=61 sample=b.wav end=499 volume=-2 pan=30 delay=0.02 direction=reverse odd=1\n<group> key=38 group=2 off_by=2 seq_length=2\n<region> seq_position=1 sample=c.wav end=99\n<region> seq_position=2 sample=d.wav end=99 loop_mode=loop_sustain loop_start=10 loop_end=79\n<group> group=2 off_by=2\n<region> key=40 lorand=0 hirand=0.5 sample=a.wav end=9\n<region> key=40 lorand=0.5 hirand=1 sample=b.wav end=9\n<group>\n<region> key=42 off_by=2 sample=c.wav end=9 tune=-30 transpose=-11\n";
        [$sheet] = Reading::of('Kit.sfz', static fn (string $path): string => $text);
        $files = ['a.wav' => 'a.wav', 'b.wav' => 'b.wav', 'c.wav' => 'c.wav', 'd.wav' => 'd.wav'];
        [$out, $lost] = Writing::of($sheet, $files);
        self::assertSame([], $lost);
        [$back, $told] = Reading::of('Kit.sfz', static fn (string $path): string => str_replace('default_path=samples/', '', $out));
        self::assertSame(['odd is not known here, and kept as it is'], $told);
        self::assertEquals(self::nameless($sheet), self::nameless($back));
        $much = $sheet->pads['a0']->with(['along' => ['a2'], 'colour' => 'plum']);
        [, $lost] = Writing::of(new KitSheet('Much', ['Bank 1'], ['a0' => $much]), $files);
        self::assertSame(['pads that sound along', 'colours'], $lost);
    }

    public function testCrossfadesBetweenStrengthsComeInAndGoOut(): void
    {
        $text = "<group> key=36 loop_mode=one_shot end=99\n<region> sample=soft.wav xfout_lovel=40 xfout_hivel=60 hivel=60\n<region> sample=middle.wav xfin_lovel=40 xfin_hivel=60 xfout_lovel=90 xfout_hivel=110 lovel=40 hivel=110\n<region> sample=hard.wav xfin_lovel=90 xfin_hivel=110 lovel=90\n";
        [$sheet, $told] = Reading::of('Kit.sfz', static fn (string $path): string => $text);
        self::assertSame([], $told);
        $pad = $sheet->pads['a0'];
        self::assertSame([Answer::Strength, 20, [[1, 49], [50, 99], [100, 127]]], [$pad->answer, $pad->crossfade, array_map(static fn (Layer $l): array => [$l->low, $l->high], $pad->layers)]);
        // Outside its fade one sound answers alone and in full; within, two at equal power.
        foreach ([30 => 1, 50 => 2, 75 => 1, 100 => 2, 120 => 1] as $velocity => $count) {
            $shares = array_column($pad->answering($velocity), 1);
            self::assertCount($count, $shares, 'at '.$velocity);
            self::assertEqualsWithDelta(1.0, array_sum(array_map(static fn (float $s): float => $s * $s, $shares)), 1e-9);
        }
        foreach ([20, 7] as $width) {
            $faded = new KitSheet('Kit', ['Bank 1'], ['a0' => $pad->with(['crossfade' => $width])]);
            [$out, $lost] = Writing::of($faded, ['soft.wav' => 'soft.wav', 'middle.wav' => 'middle.wav', 'hard.wav' => 'hard.wav']);
            self::assertSame([], $lost);
            [$back] = Reading::of('Kit.sfz', static fn (string $path): string => str_replace('default_path=samples/', '', $out));
            self::assertEquals(self::nameless($faded), self::nameless($back));
        }
    }

    public function testASampleLoopsAsItsOwnFileSaysWhereTheTextSaysNothing(): void
    {
        $path = Sounds::folder().'/looped.wav';
        $tone = Sounds::sine(220.0, 5001);
        $writer = new WavWriter($path, 44100, SampleFormat::Int24);
        $writer->write(new StereoBlock($tone, $tone));
        $writer->close();
        self::assertNull(WavMarks::in($path)->loop);
        file_put_contents($path, 'smpl'.pack('V', 60).pack('V9', 0, 0, 22676, 60, 0, 0, 0, 1, 0).pack('V6', 0, 0, 400, 4399, 0, 0), \FILE_APPEND);
        self::assertSame([400, 4400], WavMarks::in($path)->loop);
        self::assertSame(5001, SoundFile::open($path)->frames(), 'its sound is what it was');
        $read = static fn (string $region): ?Layer => Reading::of('x.sfz', static fn (): string => "<region> sample=looped.wav lokey=0 hikey=127 $region", 'keys', static fn (): ?array => WavMarks::in($path)->loop)[0]->keys?->main()?->sound;
        self::assertSame([400, 4400], [$read('')?->loopStart, $read('')?->loopEnd]);
        self::assertSame([10, 100], [$read('loop_mode=loop_sustain loop_start=10 loop_end=99')?->loopStart, $read('loop_start=10 loop_end=99')?->loopEnd]);
        self::assertNull($read('loop_mode=no_loop')?->loopStart);
        foreach (['', 'RIFF', "RIFF\0\0\0\0WAVEsmpl\xff\xff\xff\xff", 'RIFF....WAVEsmpl'.pack('V', 60).pack('V15', ...array_fill(0, 15, 0xFFFFFFFF))] as $i => $bytes) {
            file_put_contents($path.$i, $bytes);
            self::assertNull(WavMarks::in($path.$i)->loop);
        }
    }

    /** @return array<string, mixed> */
    private static function nameless(KitSheet $sheet): array
    {
        return array_map(static fn ($pad): array => $pad->with(['name' => 'x', 'role' => Role::Effect])->toArray(), $sheet->pads);
    }

    /** @return iterable<string, array{array<string, string>, string}> */
    public static function hostile(): iterable
    {
        yield 'nothing' => [['x.sfz' => ''], 'x.sfz holds no <region>: this is no SFZ file.'];
        yield 'a picture' => [['x.sfz' => "\x89PNG\0\0"], 'x.sfz is no text: this is no SFZ file.'];
        yield 'no sample' => [['x.sfz' => '<region> key=3'], 'x.sfz holds no region with a sample that Pestle could play.'];
        yield 'it includes itself' => [['x.sfz' => "<region> sample=a.wav\n#include \"x.sfz\""], 'x.sfz includes files that include one another without end'];
        yield 'what it includes is missing' => [['x.sfz' => "#include \"y.sfz\"\n<region>"], 'x.sfz includes y.sfz, which is not there: put it beside it.'];
        yield 'far too many regions' => [['x.sfz' => str_repeat("<region> sample=a.wav\n", 20_100)], 'x.sfz holds more than 20,000 regions.'];
    }

    /** @param array<string, string> $files */
    #[DataProvider('hostile')]
    public function testWhatIsNoKitIsRefusedWithASentence(array $files, string $message): void
    {
        $this->expectException(Unreadable::class);
        $this->expectExceptionMessage($message);
        Reading::of('x.sfz', static fn (string $path): ?string => $files[$path] ?? null);
    }

    public function testNumbersThatAreNoneAndPathsThatLeadOutAreHarmless(): void
    {
        $text = "<region> sample=../../../etc/passwd.wav key=60 tune=1e400 volume=abc offset=-5 end=-1 loop_mode=loop_continuous loop_start=9 loop_end=2 lovel=300 hivel=-4 pan=1e9 cutoff=NaN ampeg_attack=INF seq_length=0 polyphony=-2\n<region> sample=\$UNDEFINED.wav key=h9 lokey=40 hikey=30\n<region> key=-1 sample=a.wav\n";
        [$sheet] = Reading::of('x.sfz', static fn (string $path): string => $text, 'kit');
        self::assertSame('../../../etc/passwd.wav', $sheet->sounds()[0]->sample, 'who opens it refuses what leads out');
        foreach ($sheet->pads as $pad) {
            self::assertGreaterThan($pad->main()->start, $pad->main()->end);
            self::assertLessThanOrEqual(1.0, $pad->main()->pan);
        }
    }
}
