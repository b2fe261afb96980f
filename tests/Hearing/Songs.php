<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Synth\Room;

/**
 * Songs whose four parts are known: drums, a bass, chords with a lead, and a voice that sings or speaks, each played by
 * whatever instrument is drawn, mixed as songs are. Written as one WAV, one of each part, and their truth.
 */
final class Songs
{
    public const PARTS = ['drums', 'bass', 'melody', 'voice'];
    private const RATE = 44100;
    private const CHORDS = [0, 1, 2, 4, 5, 6, 7, 11, 16, 17, 18, 21, 24, 25, 26, 27, 28, 29, 46, 48, 50, 51, 61, 62, 81, 88, 89, 90, 91, 95];
    private const LEADS = [0, 4, 11, 12, 13, 21, 22, 24, 25, 26, 29, 40, 42, 45, 46, 56, 57, 59, 60, 64, 65, 66, 68, 71, 73, 75, 79, 80, 81, 84, 104, 107, 108];
    private const BASSES = [32, 33, 34, 35, 36, 37, 38, 39, 43, 58, 87];
    private const PROGRESSIONS = [[0, 4, 5, 3], [0, 5, 3, 4], [1, 4, 0, 0], [0, 3, 4, 3], [0, 2, 3, 4], [3, 4, 2, 5], [0, 5, 1, 4], [0, 0, 3, 3], [5, 3, 0, 4]];

    /** @param list<string> $soundfonts */
    public function __construct(private readonly string $folder, private readonly array $soundfonts, private readonly Voices $voices)
    {
    }

    /** @return string path of its truth */
    public function make(int $seed): string
    {
        mt_srand(31 * $seed + 5);
        $bpm = Chance::between(68, 150);
        $beat = 60.0 / $bpm;
        $bars = max(4, (int) round(18.0 / (4 * $beat)));
        $seconds = 4 * $beat * $bars;
        $tonic = mt_rand(0, 11);
        $scale = Chance::often(50) ? Recordings::MAJOR : Recordings::MINOR;
        $degrees = self::PROGRESSIONS[mt_rand(0, \count(self::PROGRESSIONS) - 1)];
        $pitch = static fn (int $degree, int $low): int => $low + ($tonic + $scale[(($degree % 7) + 7) % 7] - $low % 12 + 24) % 12;
        $parts = [
            'drums' => Chance::often(93) ? $this->drums($bars, $beat) : null,
            'bass' => Chance::often(92) ? $this->bass($bars, $beat, $degrees, $pitch) : null,
            'melody' => Chance::often(94) ? $this->melody($bars, $beat, $degrees, $pitch) : null,
            'voice' => Chance::often(80) ? $this->voice($bars, $beat, $degrees, $pitch, $seconds) : null,
        ];

        return $this->write($seed, array_filter($parts) ?: ['melody' => $this->melody($bars, $beat, $degrees, $pitch)], (int) ($seconds * self::RATE), $bpm);
    }

    private function drums(int $bars, float $beat): StereoBlock
    {
        $hits = Recordings::groove($bars, ['any', 'any', 'four', 'half', 'fast'][mt_rand(0, 4)]);
        $swing = Chance::often(30) ? Chance::between(0.54, 0.66) : 0.5;
        $score = new Score();
        $score->program(9, Recordings::KITS[mt_rand(0, \count(Recordings::KITS) - 1)]);
        $strikes = [];
        foreach ($hits as $step => $chord) {
            $at = (($step - $step % 2) + ($step % 2) * 2 * $swing) * $beat / 4 + Chance::between(0.0, 0.006);
            foreach ($chord as [$note, $velocity]) {
                $score->note($at, 0.1, 9, $note, $velocity);
                foreach (Recordings::KINDS as $kind => $notes) {
                    if (\in_array($note, $notes, true)) {
                        $strikes[] = [$at, $kind, $note, $velocity];
                    }
                }
            }
        }
        if (Chance::often(40)) {
            usort($strikes, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

            return Recordings::struck(StereoBlock::silence(1), $strikes);
        }

        return $this->played($score, Chance::often(40));
    }

    /**
     * @param list<int>               $degrees
     * @param callable(int, int): int $pitch
     */
    private function bass(int $bars, float $beat, array $degrees, callable $pitch): StereoBlock
    {
        $score = new Score();
        $score->program(1, self::BASSES[mt_rand(0, \count(self::BASSES) - 1)]);
        $rhythm = [[0], [0, 10], [0, 6, 11], [0, 3, 8], [0, 4, 8, 12], [0, 2, 4, 6, 8, 10, 12, 14], [0, 7, 10, 14]][mt_rand(0, 6)];
        $low = mt_rand(26, 36);
        $notes = [];
        for ($bar = 0; $bar < $bars; ++$bar) {
            foreach ($rhythm as $i => $s) {
                $until = $rhythm[$i + 1] ?? 16;
                $degree = $degrees[$bar % 4] + (0 === $i ? 0 : [0, 0, 4, 0, 2, 7][mt_rand(0, 5)]);
                $note = $pitch($degree, $low) + (Chance::often(10) ? 12 : 0);
                $notes[] = [(16 * $bar + $s) * $beat / 4, (16 * $bar + $s + ($until - $s) * Chance::between(0.5, 0.98)) * $beat / 4, $note];
            }
        }
        if (Chance::often(35)) {
            return self::deep($notes);
        }
        if (Chance::often(25)) {
            return SynthTones::played($notes);
        }
        foreach ($notes as [$from, $to, $note]) {
            $score->note($from, $to - $from, 1, $note, mt_rand(75, 115));
        }

        return $this->played($score, false);
    }

    /**
     * A sine with little above it, as basses of drum machines and synthesizers are; held or dying away, gliding or not, driven or not.
     *
     * @param list<array{float, float, int}> $notes
     */
    private static function deep(array $notes): StereoBlock
    {
        $end = max([0.0, ...array_column($notes, 1)]) + 0.4;
        $out = array_fill(0, (int) ($end * self::RATE), 0.0);
        [$second, $third, $drive] = [Chance::between(0.0, 0.3), Chance::between(0.0, 0.15), Chance::often(40) ? Chance::between(0.5, 3.0) : 0.0];
        [$attack, $release] = [Chance::between(0.001, 0.02), Chance::between(0.005, 0.1)];
        $decay = Chance::often(50) ? Chance::between(0.3, 2.0) : 0.0;
        $glide = Chance::often(30) ? Chance::between(0.02, 0.12) : 0.0;
        $before = null;
        foreach ($notes as [$from, $to, $note]) {
            $hz = 440.0 * 2 ** (($note - 69) / 12);
            $first = (int) ($from * self::RATE);
            $phase = 0.0;
            for ($i = 0, $n = (int) (($to - $from + $release) * self::RATE); $i < $n; ++$i) {
                $t = $i / self::RATE;
                $now = null !== $before && $glide > 0.0 && $t < $glide ? $hz * ($before / $hz) ** (1.0 - $t / $glide) : $hz;
                $phase += 2 * \M_PI * $now / self::RATE;
                $x = sin($phase) + $second * sin(2 * $phase) + $third * sin(3 * $phase);
                $x = $drive > 0.0 ? tanh($drive * $x) : $x;
                $gain = min(1.0, $t / $attack) * min(1.0, ($n - $i) / ($release * self::RATE)) * ($decay > 0.0 ? exp(-$t / $decay) : 1.0);
                $out[$first + $i] = ($out[$first + $i] ?? 0.0) + 0.3 * $gain * $x;
            }
            $before = $hz;
        }

        return new StereoBlock(array_values($out), array_values($out));
    }

    /**
     * @param list<int>               $degrees
     * @param callable(int, int): int $pitch
     */
    private function melody(int $bars, float $beat, array $degrees, callable $pitch): StereoBlock
    {
        $chords = new Score();
        $lead = new Score();
        $chords->program(0, self::CHORDS[mt_rand(0, \count(self::CHORDS) - 1)]);
        $lead->program(2, self::LEADS[mt_rand(0, \count(self::LEADS) - 1)]);
        $strum = [[0], [0, 8], [2, 10], [0, 6], [0, 4, 8, 12], [0, 3, 6, 10]][mt_rand(0, 5)];
        $broken = Chance::often(25);
        $low = mt_rand(46, 60);
        $sevenths = Chance::often(50) ? 4 : 3;
        $synthesised = [];
        for ($bar = 0; $bar < $bars; ++$bar) {
            $degree = $degrees[$bar % 4];
            foreach ($broken ? range(0, 14, 2) : $strum as $i => $s) {
                $until = $broken ? $s + 3 : ($strum[$i + 1] ?? 16);
                for ($k = 0; $k < $sevenths; ++$k) {
                    if (!$broken || $k === $i % $sevenths) {
                        $note = $pitch($degree + 2 * $k, $low);
                        $chords->note((16 * $bar + $s) * $beat / 4 + 0.004 * $k, 0.95 * ($until - $s) * $beat / 4, 0, $note, mt_rand(60, 100));
                        $synthesised[] = [(16 * $bar + $s) * $beat / 4, (16 * $bar + $s + 0.95 * ($until - $s)) * $beat / 4, $note];
                    }
                }
            }
        }
        $block = Chance::often(15) ? SynthTones::played($synthesised) : $this->played($chords, Chance::often(50));
        $block = self::placed($block, Chance::between(-0.5, 0.5));
        if (Chance::often(55)) {
            foreach (self::line($bars, $beat, $degrees, $pitch, mt_rand(60, 74), 70) as [$from, $to, $note]) {
                $lead->note($from, $to - $from, 2, $note, mt_rand(70, 110));
            }
            $block = self::sum([$block, 1.0], [self::placed($this->played($lead, Chance::often(50)), Chance::between(-0.6, 0.6)), Chance::between(0.4, 1.2)]);
        }

        return $block;
    }

    /**
     * @param list<int>               $degrees
     * @param callable(int, int): int $pitch
     */
    private function voice(int $bars, float $beat, array $degrees, callable $pitch, float $seconds): StereoBlock
    {
        $sound = Chance::often(70)
            ? $this->voices->sung(self::line($bars, $beat, $degrees, $pitch, mt_rand(48, 66), 75), $seconds)
            : $this->voices->said(array_map(static fn (int $k): float => 8 * $k * $beat + Chance::between(0.0, $beat), range(0, intdiv($bars - 1, 2))), $seconds);
        $sound = Biquad::highPass(Chance::between(70, 140), 0.7, self::RATE)->filter($sound);
        if (!Chance::often(45)) {
            return new StereoBlock($sound, $sound);
        }
        [$left, $right] = (new Room(self::RATE, Chance::between(0.3, 1.2)))->of($sound);
        $wet = Chance::between(0.1, 0.45);

        return self::sum([new StereoBlock($sound, $sound), 1.0], [new StereoBlock($left, $right), $wet]);
    }

    /**
     * @param list<int>               $degrees
     * @param callable(int, int): int $pitch
     *
     * @return list<array{float, float, int}> notes by step, with rests between phrases
     */
    private static function line(int $bars, float $beat, array $degrees, callable $pitch, int $low, int $often): array
    {
        $notes = [];
        $degree = 0;
        for ($bar = 0; $bar < $bars; ++$bar) {
            if (!Chance::often($often)) {
                continue;
            }
            for ($s = 0; $s < 16;) {
                $long = min(16 - $s, [2, 2, 3, 4, 4, 6, 8][mt_rand(0, 6)]);
                $degree = Chance::often(40) ? $degrees[$bar % 4] + [0, 2, 4][mt_rand(0, 2)] : $degree + mt_rand(-2, 2);
                if (Chance::often(85)) {
                    $notes[] = [(16 * $bar + $s) * $beat / 4, (16 * $bar + $s + 0.92 * $long) * $beat / 4, $pitch($degree, $low)];
                }
                $s += $long;
            }
        }

        return $notes;
    }

    private function played(Score $score, bool $room): StereoBlock
    {
        $path = $this->folder.'/played-'.getmypid().'.wav';
        $score->render($this->soundfonts[mt_rand(0, \count($this->soundfonts) - 1)], $path, $room);
        $file = SoundFile::open($path);
        $block = $file->read(0, $file->frames());
        unlink($path);

        return $block;
    }

    private static function placed(StereoBlock $block, float $pan): StereoBlock
    {
        return self::sides($block, min(1.0, 1.0 - $pan), min(1.0, 1.0 + $pan));
    }

    private static function sides(StereoBlock $block, float $left, float $right): StereoBlock
    {
        return new StereoBlock(array_map(static fn (float $x): float => $left * $x, $block->left), array_map(static fn (float $x): float => $right * $x, $block->right));
    }

    /** @param array{StereoBlock, float} ...$blocks */
    private static function sum(array ...$blocks): StereoBlock
    {
        [$left, $right] = [[], []];
        foreach ($blocks as [$block, $gain]) {
            foreach ($block->left as $i => $x) {
                $left[$i] = ($left[$i] ?? 0.0) + $gain * $x;
                $right[$i] = ($right[$i] ?? 0.0) + $gain * $block->right[$i];
            }
        }

        return new StereoBlock(array_values($left), array_values($right));
    }

    /** @param array<string, StereoBlock> $parts */
    private function write(int $seed, array $parts, int $frames, float $bpm): string
    {
        $loud = ['drums' => -1.0, 'bass' => -3.0, 'melody' => -3.0, 'voice' => -1.0];
        $mono = Chance::often(20);
        foreach ($parts as $name => $block) {
            $block = $block->append(StereoBlock::silence(max(0, $frames - $block->frames())))->slice(0, $frames);
            $power = 0.0;
            foreach ($block->left as $i => $x) {
                $power += $x * $x + $block->right[$i] ** 2;
            }
            $gain = 10.0 ** (($loud[$name] + Chance::between(-4.5, 4.5)) / 20.0) / max(1e-6, sqrt($power / $frames));
            $block = self::sides($block, $gain, $gain);
            if ($mono) {
                $middle = array_map(static fn (float $l, float $r): float => 0.5 * ($l + $r), $block->left, $block->right);
                $block = new StereoBlock($middle, $middle);
            }
            $parts[$name] = $block;
        }
        $mix = self::sum(...array_map(static fn (StereoBlock $b): array => [$b, 1.0], array_values($parts)));
        $gain = Chance::between(0.4, 0.95) / $mix->peak();
        $path = \sprintf('%s/song-%04d', $this->folder, $seed);
        self::keep($path.'.wav', self::sides($mix, $gain, $gain));
        $files = [];
        foreach ($parts as $name => $block) {
            self::keep($files[$name] = $path.'.'.$name.'.wav', self::sides($block, $gain, $gain));
        }
        file_put_contents($path.'.json', json_encode(['file' => $path.'.wav', 'parts' => $files, 'bpm' => $bpm], \JSON_THROW_ON_ERROR));

        return $path.'.json';
    }

    public static function keep(string $path, StereoBlock $block): void
    {
        $writer = new WavWriter($path, self::RATE, SampleFormat::Float32);
        $writer->write($block);
        $writer->close();
    }
}
