<?php

namespace Pestle\Tests\Core\Audio;

use Pestle\Core\Audio\Fingerprint;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Sample\Effect\Ticked;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

final class FingerprintTest extends TestCase
{
    public function testTheSameSoundInAnotherFormatIsTheSame(): void
    {
        $folder = Sounds::folder();
        $sound = new MemorySource(Sounds::hit(4, 300_000, 0.5), 44100);
        WavWriter::copy($sound, $folder.'/16.wav', SampleFormat::Int16);
        $sixteen = SoundFile::open($folder.'/16.wav');
        $print = Fingerprint::of($sixteen);
        foreach ([SampleFormat::Int24, SampleFormat::Float32] as $i => $format) {
            WavWriter::copy($sixteen, $folder."/$i.wav", $format);
            self::assertSame($print, Fingerprint::of(SoundFile::open($folder."/$i.wav")), $format->name);
        }
        // One value, one frame, the sides, the rate: each makes another sound.
        $whole = Sounds::whole($sixteen);
        $left = $whole->left;
        $left[2000] += 0.01;
        $others = [
            new MemorySource(new StereoBlock(array_values($left), $whole->right), 44100),
            new MemorySource($whole->slice(0, $whole->frames() - 1), 44100),
            new MemorySource(new StereoBlock($whole->right, $whole->left), 44100),
            new MemorySource($whole, 48000),
        ];
        self::assertCount(5, array_unique([$print, ...array_map(Fingerprint::of(...), $others)]));
        self::assertSame(Fingerprint::of(new MemorySource(StereoBlock::silence(0), 44100)), Fingerprint::of(new MemorySource(StereoBlock::silence(0), 44100)));
    }

    public function testTicksLieOnTheirPlacesHoweverItIsRead(): void
    {
        $strong = new StereoBlock([0.5, 0.25, 0.125], [0.5, 0.25, 0.125]);
        $usual = new StereoBlock([0.1, 0.05], [0.1, 0.05]);
        $ticked = new Ticked(new MemorySource(StereoBlock::silence(50), 44100), [3 => 5, 4 => 20, 5 => 49], $strong, $usual, 4);
        $whole = $ticked->read(0, 50)->left;
        self::assertSame([0.1, 0.05, 0.0], \array_slice($whole, 5, 3));
        self::assertSame([0.5, 0.25, 0.125, 0.0], \array_slice($whole, 20, 4));
        self::assertSame(0.1, $whole[49]);
        for ($at = 0; $at < 50; $at += 7) {
            self::assertSame(\array_slice($whole, $at, 7), \array_slice($ticked->read($at, 7)->left, 0, min(7, 50 - $at)));
        }
    }
}
