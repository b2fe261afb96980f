<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Analysis\PitchGuess;
use Pestle\Core\Analysis\SingleSound;
use Pestle\Core\Analysis\SoundShape;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Theory\Tempo;

/**
 * Single sounds whose role is known: every drum and every instrument of soundfonts, spoken and hummed voices of a speech
 * synthesizer; each as it is and once as makers' folders have them: cut, in a room, worn, moved in pitch.
 */
final class SingleSounds
{
    private const DRUMS = [
        'kick' => [35, 36], 'snare' => [38, 40], 'clap' => [39], 'hat' => [42, 44], 'open-hat' => [46], 'tom' => [41, 43, 45, 47, 48, 50], 'cymbal' => [49, 51, 52, 53, 55, 57, 59],
        'percussion' => [37, 54, 56, 58, 60, 61, 62, 63, 64, 65, 66, 67, 68, 69, 70, 75, 76, 77, 80, 81],
    ];
    private const KITS = [0, 8, 16, 24, 25, 32, 40];
    private const WORDS = ['ah', 'oh', 'hey', 'yeah', 'come on', 'one two', 'hello', 'la la', 'mm', 'ooh', 'up', 'down', 'go', 'night market', 'rain'];
    private const VOICES = ['en-us', 'en-gb', 'en-us+f2', 'en-gb+f4', 'en-us+m3', 'de', 'fr', 'it+f3', 'es+m5', 'pt'];

    /**
     * @return list<array{string, int, int, int}> role, channel, program, note: what a soundfont is to play
     */
    public static function score(int $seed): array
    {
        mt_srand($seed);
        $list = [];
        foreach (self::KITS as $kit) {
            foreach (self::DRUMS as $role => $keys) {
                foreach ('percussion' === $role ? array_rand(array_flip($keys), 6) : $keys as $key) {
                    $list[] = [$role, 9, $kit, (int) $key];
                }
                // As many of what has one key only.
                if (\count($keys) < 2) {
                    $list[] = [$role, 9, $kit, $keys[0]];
                }
            }
        }
        foreach (range(0, 95) as $program) {
            $role = $program >= 32 && $program < 40 ? 'bass' : (\in_array($program, [52, 53, 54, 85, 91], true) ? 'voice' : 'tonal');
            $notes = match ($role) {
                'bass' => range(26, 46, 2),
                'voice' => range(50, 76, 2),
                default => [mt_rand(48, 62), mt_rand(60, 74), mt_rand(70, 88)],
            };
            foreach ($notes as $note) {
                $list[] = [$role, 0, $program, $note];
            }
        }
        // Synthesised basses are low notes of leads as well.
        foreach ([38, 39, 80, 81, 87] as $program) {
            $list[] = ['bass', 0, $program, mt_rand(24, 42)];
        }

        return $list;
    }

    /** Plays the score with a soundfont, a sound every SPACE seconds, into a folder of WAVs with their roles as names. */
    public static function make(string $folder, string $font, int $seed): void
    {
        $space = 4.0;
        $score = self::score($seed);
        $events = '';
        $last = 0;
        $at = static function (int $ms) use (&$events, &$last): void {
            $value = $ms - $last;
            $last = $ms;
            $bytes = \chr($value & 0x7F);
            while ($value >>= 7) {
                $bytes = \chr(0x80 | ($value & 0x7F)).$bytes;
            }
            $events .= $bytes;
        };
        foreach ($score as $i => [, $channel, $program, $note]) {
            $begin = (int) (1000 * $space * $i) + 20;
            $at($begin - 15);
            $events .= pack('C2', 0xC0 | $channel, $program);
            $at($begin);
            $events .= pack('C3', 0x90 | $channel, $note, mt_rand(60, 127));
            $at($begin + [120, 350, 900, 1800][mt_rand(0, 3)]);
            $events .= pack('C3', 0x80 | $channel, $note, 0);
        }
        $at((int) (1000 * $space * \count($score)));
        $events .= "\xFF\x2F\x00";
        // A tick is a millisecond: 500 of them to the quarter at 120.
        file_put_contents($midi = $folder.'/play.mid', 'MThd'.pack('Nnnn', 6, 0, 1, 500).'MTrk'.pack('N', \strlen($events)).$events);
        exec(\sprintf('fluidsynth -ni -q -R 0 -C 0 -g 0.5 -r 44100 -F %s %s %s 2>/dev/null', escapeshellarg($folder.'/all.wav'), escapeshellarg($font), escapeshellarg($midi)));
        $all = SoundFile::open($folder.'/all.wav');
        foreach ($score as $i => [$role]) {
            $block = $all->read((int) (44100 * $space * $i), (int) (44100 * $space));
            if ($block->peak() > 0.003) {
                WavWriter::copy(new MemorySource(self::trimmed($block), 44100), \sprintf('%s/%s-%d-%04d.wav', $folder, $role, $seed, $i), SampleFormat::Int16);
            }
        }
        unlink($folder.'/all.wav');
        unlink($midi);
    }

    public static function voices(string $folder, int $count): void
    {
        for ($i = 0; $i < $count; ++$i) {
            mt_srand(9000 + $i);
            $path = \sprintf('%s/voice-9-%04d.wav', $folder, $i);
            exec(\sprintf('espeak-ng -v %s -p %d -s %d -w %s %s', escapeshellarg(self::VOICES[$i % \count(self::VOICES)]), mt_rand(10, 90), mt_rand(90, 200), escapeshellarg($path.'.raw'), escapeshellarg(self::WORDS[mt_rand(0, \count(self::WORDS) - 1)])));
            $source = SoundFile::open($path.'.raw');
            WavWriter::copy(new MemorySource(self::trimmed($source->read(0, $source->frames())), $source->sampleRate()), $path, SampleFormat::Int16);
            unlink($path.'.raw');
        }
    }

    /** What drum machines make. */
    public static function synthesised(string $folder, int $kits): void
    {
        $names = ['kick' => ['kick', 'kick 2'], 'snare' => ['snare', 'snare 2'], 'clap' => ['clap', 'clap 2'], 'hat' => ['closed hat', 'closed hat 2'], 'open-hat' => ['open hat', 'open hat 2'], 'tom' => ['tom', 'tom 2'], 'cymbal' => ['cymbal'], 'percussion' => ['rim', 'percussion', 'percussion 2', 'percussion 3']];
        for ($kit = 0; $kit < $kits; ++$kit) {
            mt_srand(500 + $kit);
            $synth = new SynthKit(44100);
            foreach ($names as $role => $sounds) {
                foreach ($sounds as $i => $sound) {
                    $side = $synth->sound($sound);
                    WavWriter::copy(new MemorySource(self::trimmed(new StereoBlock($side, $side)), 44100), \sprintf('%s/%s-8-%04d.wav', $folder, $role, 10 * $kit + $i), SampleFormat::Int16);
                }
            }
        }
    }

    private static function trimmed(StereoBlock $block): StereoBlock
    {
        $peak = $block->peak();
        $first = 0;
        $last = $block->frames() - 1;
        while ($first < $last && max(abs($block->left[$first]), abs($block->right[$first])) < 0.003 * $peak) {
            ++$first;
        }
        while ($last > $first && max(abs($block->left[$last]), abs($block->right[$last])) < 0.001 * $peak) {
            --$last;
        }

        return $block->slice($first, max(1, $last + 1 - $first));
    }

    /** As somebody's folder might have it. */
    public static function changed(StereoBlock $block, int $rate, int $seed): StereoBlock
    {
        mt_srand($seed);
        $ratio = 2.0 ** (mt_rand(-300, 300) / 1200.0);
        $left = $right = [];
        for ($i = 0, $n = (int) (($block->frames() - 2) / $ratio); $i < $n; ++$i) {
            $at = (int) ($i * $ratio);
            $part = $i * $ratio - $at;
            $left[] = $block->left[$at] + $part * ($block->left[$at + 1] - $block->left[$at]);
            $right[] = $block->right[$at] + $part * ($block->right[$at + 1] - $block->right[$at]);
        }
        $block = new StereoBlock($left ?: [0.0], $right ?: [0.0]);
        $how = mt_rand(0, 3);
        if (0 === $how) {
            $frames = min($block->frames(), (int) ($rate * [0.08, 0.15, 0.3, 0.6][mt_rand(0, 3)]));
            $cut = $block->slice(0, max(64, $frames));
            $block = new StereoBlock(self::faded($cut->left), self::faded($cut->right));
        } elseif (1 === $how || 2 === $how) {
            $room = (new ReverbSettings('i1'))->with(['mix' => (float) mt_rand(12, 45), 'decay' => mt_rand(3, 25) / 10.0, 'size' => mt_rand(3, 15) / 10.0, 'highs' => (float) mt_rand(30, 90)])->insert(new Timing((float) $rate, Tempo::bpm(100)));
            $tail = array_fill(0, (int) (0.8 * $rate), 0.0);
            [$block] = $room->process(new StereoBlock([...$block->left, ...$tail], [...$block->right, ...$tail]), null, $room->rest(), 0);
        }
        if (mt_rand(0, 2) > 1) {
            $low = Biquad::lowPass((float) mt_rand(3500, 9000), 0.7, (float) $rate);
            $noise = 10.0 ** (-mt_rand(50, 66) / 20.0);
            $worn = static fn (float $x): float => $x + $noise * (mt_rand(-1000, 1000) / 1000.0);
            $block = new StereoBlock(array_map($worn, $low->filter($block->left)), array_map($worn, $low->filter($block->right)));
        }

        return $block;
    }

    /**
     * @param list<float> $side
     *
     * @return list<float>
     */
    private static function faded(array $side): array
    {
        for ($i = max(0, ($n = \count($side)) - 400), $faded = \array_slice($side, 0, $i); $i < $n; ++$i) {
            $faded[] = $side[$i] * ($n - 1 - $i) / 400.0;
        }

        return $faded;
    }

    /**
     * Features and roles of files, each as it is and changed.
     *
     * @param list<string> $files
     *
     * @return array{list<list<float>>, list<int>}
     */
    public static function cases(array $files): array
    {
        $features = $roles = [];
        foreach ($files as $i => $file) {
            $source = SoundFile::open($file);
            $whole = $source->read(0, min($source->frames(), 6 * $source->sampleRate()));
            $role = (int) array_search(preg_replace('/-\d+-\d+\.wav$/', '', basename($file)), SingleSound::ROLES, true);
            foreach ([$whole, self::changed($whole, $source->sampleRate(), 77 + $i)] as $block) {
                $memory = new MemorySource($block, $source->sampleRate());
                $features[] = SingleSound::features($memory, SoundShape::of($memory), PitchGuess::of($memory));
                $roles[] = $role;
            }
        }

        return [$features, $roles];
    }
}
