<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Mix\Gain;

/**
 * Recordings whose truth is known, to measure the analysis by: drum loops, alone and with bass and chords, chord loops,
 * drums that change their tempo, and single notes, played by sampled instruments from General MIDI soundfonts and by
 * synthesised drums.
 */
final class Recordings
{
    /** General MIDI drum notes by kind. */
    public const KINDS = [
        'kick' => [36, 35], 'snare' => [38, 40], 'clap' => [39], 'rim' => [37], 'closed hat' => [42, 44], 'open hat' => [46],
        'tom' => [41, 43, 45, 47, 48, 50], 'cymbal' => [49, 51, 57, 59, 55, 53], 'percussion' => [54, 56, 60, 61, 62, 63, 64, 69, 70, 75, 76],
    ];
    /** Kits of General Standard: standard, room, power, electronic, analogue, jazz, brush. */
    public const KITS = [0, 0, 8, 16, 24, 25, 32, 40];
    public const MAJOR = [0, 2, 4, 5, 7, 9, 11];
    public const MINOR = [0, 2, 3, 5, 7, 8, 10];
    private const TONICS = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];

    /** @var list<string> those that are General MIDI banks; others are one kit of drums each */
    private readonly array $banks;

    /** @param list<string> $soundfonts */
    public function __construct(private readonly string $folder, private readonly array $soundfonts)
    {
        $this->banks = array_values(array_filter($soundfonts, static fn (string $font): bool => filesize($font) > 0 && !str_contains($font, '_LV2')));
    }

    /** @return array<string, mixed> the truth */
    public function drums(int $seed): array
    {
        mt_srand($seed);
        $style = ['any', 'any', 'any', 'four', 'half', 'fast'][mt_rand(0, 5)];
        [$slowest, $fastest] = ['any' => [65, 172], 'four' => [112, 134], 'half' => [126, 160], 'fast' => [156, 180]][$style];
        $bpm = round($slowest + ($fastest - $slowest) * mt_rand(0, 1000) / 1000, 1);
        $bars = [1, 2, 2, 4, 4, 8][mt_rand(0, 5)];
        $swing = 0 === mt_rand(0, 2) ? mt_rand(54, 67) / 100 : 0.5;
        $beats = 4 * $bars;
        $step = 60.0 / $bpm / 4;
        $time = static fn (int $at): float => ($at - $at % 2) * $step + ($at % 2) * 2 * $step * $swing;
        $hits = self::groove($bars, $style);
        $with = 0 === mt_rand(0, 2) ? $this->music($bars) : [];
        [$score, $onsets, $strikes] = $this->played($hits, $time);
        $onsets = $this->accompanied($score, $onsets, $with, $time, $step);
        $seconds = $beats * 60.0 / $bpm;
        $whole = 0 !== mt_rand(0, 3);
        $font = [] === $with ? null : $this->banks[mt_rand(0, \count($this->banks) - 1)];
        if (0 === mt_rand(0, 2)) {
            return $this->write('drums', $seed, $score->without(9), $whole ? $seconds : null, ['bpm' => $bpm, 'onsets' => $onsets], $font, $strikes);
        }

        return $this->write('drums', $seed, $score, $whole ? $seconds : null, ['bpm' => $bpm, 'onsets' => $onsets], $font);
    }

    /**
     * Drums in bars of three, six or twelve, some with bass and chords.
     *
     * @return array<string, mixed>
     */
    public function metered(int $seed): array
    {
        mt_srand($seed);
        $meter = array_keys(MeteredGrooves::METERS)[$seed % 3];
        [$steps, $beat, $slowest, $fastest] = MeteredGrooves::METERS[$meter];
        $bpm = round($slowest + ($fastest - $slowest) * mt_rand(0, 1000) / 1000, 1);
        $bars = ('12/8' === $meter ? [1, 2, 2, 4] : [2, 4, 4, 8])[mt_rand(0, 3)];
        $step = 60.0 / $bpm / $beat;
        $time = static fn (int $at): float => $at * $step;
        $hits = MeteredGrooves::drums($meter, $bars);
        $with = 0 === mt_rand(0, 2) ? MeteredGrooves::music($meter, $bars) : [];
        [$score, $onsets, $strikes] = $this->played($hits, $time);
        $onsets = $this->accompanied($score, $onsets, $with, $time, $step);
        $synthesised = 0 === mt_rand(0, 2);
        $font = [] === $with ? null : $this->banks[mt_rand(0, \count($this->banks) - 1)];

        return $this->write('metered', $seed, $synthesised ? $score->without(9) : $score, 0 !== mt_rand(0, 3) ? $bars * $steps * $step : null, ['bpm' => $bpm, 'meter' => $meter, 'onsets' => $onsets], $font, $synthesised ? $strikes : []);
    }

    /** @return array<string, mixed> */
    public function drifting(int $seed): array
    {
        mt_srand($seed);
        $bars = 12;
        $from = 75.0 + mt_rand(0, 75);
        $to = $from * (mt_rand(0, 1) ? mt_rand(105, 125) / 100 : mt_rand(80, 95) / 100);
        $sudden = 0 === mt_rand(0, 2);
        $times = [0.0];
        for ($s = 0; $s < $bars * 16; ++$s) {
            $part = $s / ($bars * 16);
            $bpm = $sudden ? ($part < 0.5 ? $from : $to) : $from + ($to - $from) * $part;
            $times[] = $times[$s] + 15.0 / $bpm;
        }
        [$score, $onsets, $strikes] = $this->played(self::groove($bars, 'any'), static fn (int $at): float => $times[$at]);
        $beats = array_map(static fn (int $b): float => $times[4 * $b], range(0, 4 * $bars - 1));

        $synthesised = 0 === mt_rand(0, 2);

        return $this->write('drifting', $seed, $synthesised ? $score->without(9) : $score, null, ['slowest' => min($from, $to), 'fastest' => max($from, $to), 'beats' => $beats, 'downbeats' => array_values(array_filter($beats, static fn (int $k): bool => 0 === $k % 4, \ARRAY_FILTER_USE_KEY)), 'onsets' => $onsets], null, $synthesised ? $strikes : []);
    }

    /** @return array<string, mixed> */
    public function chords(int $seed): array
    {
        mt_srand($seed);
        $tonic = $seed % 12;
        $minor = 1 === intdiv($seed, 12) % 2;
        $scale = $minor ? self::MINOR : self::MAJOR;
        $progressions = $minor
            ? [[0, 5, 2, 6], [0, 3, 4, 0], [0, 6, 5, 4], [0, 3, 5, 4], [0, 5, 3, 4], [5, 6, 0, 0], [0, 3, 6, 2]]
            : [[0, 4, 5, 3], [0, 5, 3, 4], [1, 4, 0, 0], [0, 3, 4, 3], [0, 2, 3, 4], [3, 4, 2, 5], [0, 5, 1, 4]];
        $degrees = $progressions[mt_rand(0, \count($progressions) - 1)];
        $sevenths = 1 === mt_rand(0, 1);
        $beat = 60.0 / (72 + mt_rand(0, 68));
        $score = new Score();
        $score->program(0, [0, 4, 5, 11, 16, 24, 26, 48, 61, 89][mt_rand(0, 9)]);
        $score->program(1, [32, 33, 38][mt_rand(0, 2)]);
        $bass = 0 !== mt_rand(0, 2);
        $strum = [[0.0, 4.0], [0.0, 2.0, 4.0], [0.0, 1.5, 2.5, 4.0]][mt_rand(0, 2)];
        foreach ($degrees as $bar => $degree) {
            $notes = [];
            for ($k = 0; $k < ($sevenths ? 4 : 3); ++$k) {
                $d = $degree + 2 * $k;
                $pitch = 48 + $tonic + $scale[$d % 7] + 12 * intdiv($d, 7);
                // The leading note of a minor key's fifth degree.
                $notes[] = $minor && 4 === $degree && 6 === $d % 7 ? $pitch + 1 : $pitch;
            }
            for ($k = 0; $k < \count($strum) - 1; ++$k) {
                [$at, $until] = [$strum[$k], $strum[$k + 1] ?? 4.0];
                foreach ($notes as $note) {
                    $score->note((4 * $bar + $at) * $beat, ($until - $at) * $beat * 0.95, 0, $note > 71 ? $note - 12 : $note, mt_rand(70, 105));
                }
            }
            if ($bass) {
                $score->note(4 * $bar * $beat, 1.8 * $beat, 1, 36 + ($tonic + $scale[$degree]) % 12, 95);
                $score->note((4 * $bar + 2.5) * $beat, 1.2 * $beat, 1, 36 + ($tonic + $scale[$degree]) % 12, 85);
            }
        }

        if (0 === mt_rand(0, 2)) {
            $score->program(9, self::KITS[mt_rand(0, \count(self::KITS) - 1)]);
            foreach (self::groove(4, 'any') as $step => $chord) {
                foreach ($chord as [$note, $velocity]) {
                    $score->note($step * $beat / 4, 0.1, 9, $note, (int) (0.8 * $velocity));
                }
            }
        }

        return $this->write('chords', $seed, $score, 16 * $beat, ['bpm' => 60.0 / $beat, 'key' => self::TONICS[$tonic].($minor ? ' minor' : ' major')], $this->banks[mt_rand(0, \count($this->banks) - 1)]);
    }

    /** @return array<string, mixed> */
    public function note(int $seed): array
    {
        mt_srand($seed);
        $program = [0, 4, 11, 16, 24, 32, 33, 38, 40, 52, 56, 65, 71, 73, 80][mt_rand(0, 14)];
        $midi = \in_array($program, [32, 33, 38], true) ? mt_rand(28, 50) : mt_rand(45, 84);
        $score = new Score();
        $score->program(0, $program);
        $score->note(0.05, 1.2, 0, $midi, 100);

        return $this->write('note', $seed, $score, null, ['midi' => $midi, 'program' => $program], $this->banks[mt_rand(0, \count($this->banks) - 1)]);
    }

    /** @return list<array<string, mixed>> a single line and chords, with their notes */
    public function phrases(int $seed): array
    {
        $out = [];
        foreach (['line' => Phrases::line(...), 'harmony' => Phrases::chords(...)] as $group => $played) {
            mt_srand(2 * $seed + (int) ('line' === $group));
            [$score, $notes] = $played();
            $synthesised = 0 === $seed % 4 ? SynthTones::played($notes) : null;
            $out[] = $this->write($group, $seed, $score, null, ['notes' => $notes], $this->banks[mt_rand(0, \count($this->banks) - 1)], tones: $synthesised);
        }

        return $out;
    }

    /**
     * Every drum of one kit alone, soft and loud.
     *
     * @return array<string, mixed>
     */
    public function catalogue(int $seed): array
    {
        mt_srand($seed);
        $hits = [];
        foreach (array_merge(...array_values(self::KINDS)) as $i => $note) {
            $hits[2 * $i] = [[$note, 110]];
            $hits[2 * $i + 1] = [[$note, 70]];
        }
        [$score, $onsets, $strikes] = $this->played($hits, static fn (int $at): float => 0.02 + $at * 0.6, self::KITS[1 + $seed % 7]);
        $font = $this->soundfonts[intdiv($seed, 7)] ?? null;

        return $this->write('catalogue', $seed, null === $font ? $score->without(9) : $score, null, ['onsets' => $onsets], $font, null === $font ? $strikes : []);
    }

    /**
     * A groove on a grid of sixteenths.
     *
     * @return array<int, list<array{int, int}>> drum note and velocity by step
     */
    public static function groove(int $bars, string $style): array
    {
        $kicks = match ($style) {
            'four' => [0, 4, 8, 12],
            'half' => [[0, 6], [0, 7, 10], [0, 10], [0, 3, 11], [0, 6, 14]][mt_rand(0, 4)],
            'fast' => [[0, 10], [0, 3, 10], [0, 2, 10]][mt_rand(0, 2)],
            default => [[0, 8], [0, 10], [0, 7, 10], [0, 6, 10], [0, 4, 8, 12], [0, 3, 10], [0, 8, 11], [0, 2, 10]][mt_rand(0, 7)],
        };
        $back = 'half' === $style ? [8] : [4, 12];
        $hand = ['snare', 'snare', 'snare', 'clap', 'rim'][mt_rand(0, 4)];
        $top = ['closed hat', 'closed hat', 'closed hat', 'ride', 'percussion'][mt_rand(0, 4)];
        $every = 'half' === $style ? mt_rand(1, 2) : [1, 2, 2, 2, 4][mt_rand(0, 4)];
        $note = static fn (string $kind): int => self::KINDS[$kind][mt_rand(0, \count(self::KINDS[$kind]) - 1)];
        $kick = $note('kick');
        $snare = $note($hand);
        $hat = 'ride' === $top ? 51 : $note($top);
        $open = 0 === mt_rand(0, 1) ? [6, 10, 14][mt_rand(0, 2)] : -1;
        $fill = 0 === mt_rand(0, 2);
        $hits = [];
        for ($bar = 0; $bar < $bars; ++$bar) {
            for ($s = 0; $s < 16; ++$s) {
                $at = 16 * $bar + $s;
                if ($fill && $bar === $bars - 1 && $s >= 12) {
                    $hits[$at][] = [[50, 48, 45, 41][$s - 12], mt_rand(85, 115)];
                    continue;
                }
                if (\in_array($s, $kicks, true) || 0 === mt_rand(0, 40)) {
                    $hits[$at][] = [$kick, mt_rand(95, 127)];
                }
                if (\in_array($s, $back, true)) {
                    $hits[$at][] = [$snare, mt_rand(95, 127)];
                } elseif ('snare' === $hand && 0 === mt_rand(0, 14)) {
                    $hits[$at][] = [$snare, mt_rand(40, 65)];
                }
                if ($s === $open) {
                    $hits[$at][] = [46, mt_rand(75, 105)];
                } elseif (0 === $s % $every) {
                    $hits[$at][] = [$hat, 0 === $s % 4 ? mt_rand(80, 110) : mt_rand(55, 90)];
                }
                if (0 === $at && 0 === mt_rand(0, 3)) {
                    $hits[$at][] = [49, 100];
                }
            }
        }

        return $hits;
    }

    /**
     * @param array<int, list<array{int, int}>> $hits
     * @param callable(int): float              $time of a step
     *
     * @return array{Score, list<array{float, list<string>}>, list<array{float, string, int, int}>} what is played, when which
     *                                                                                              kinds sound, and each strike: seconds, kind, note, velocity
     */
    private function played(array $hits, callable $time, ?int $kit = null): array
    {
        $score = new Score();
        $score->program(9, $kit ?? self::KITS[mt_rand(0, \count(self::KITS) - 1)]);
        $onsets = $strikes = [];
        ksort($hits);
        foreach ($hits as $step => $chord) {
            $kinds = [];
            foreach ($chord as [$note, $velocity]) {
                $score->note($time($step), 0.1, 9, $note, $velocity);
                foreach (self::KINDS as $kind => $notes) {
                    if (\in_array($note, $notes, true)) {
                        $kinds[] = $kind;
                        $strikes[] = [$time($step), $kind, $note, $velocity];
                    }
                }
            }
            $onsets[] = [$time($step), array_values(array_unique($kinds))];
        }

        return [$score, $onsets, $strikes];
    }

    /**
     * A bass and chords to play with drums.
     *
     * @return array<int, list<array{int, int, int, float}>> channel, note, velocity and steps by step
     */
    private function music(int $bars): array
    {
        $tonic = mt_rand(0, 11);
        $degrees = [0, [5, 3, 8][mt_rand(0, 2)], [0, 7, 10][mt_rand(0, 2)], [5, 7][mt_rand(0, 1)]];
        $bass = [[0], [0, 10], [0, 6, 11], [0, 3, 8]][mt_rand(0, 3)];
        $chord = [[0], [0, 8], [2, 10], [0, 6]][mt_rand(0, 3)];
        $parts = mt_rand(1, 3);
        $out = [];
        for ($bar = 0; $bar < $bars; ++$bar) {
            $root = $tonic + $degrees[$bar % 4];
            foreach (0 !== ($parts & 1) ? $bass : [] as $s) {
                $out[16 * $bar + $s][] = [1, 28 + $root % 12, mt_rand(80, 110), 2.5];
            }
            foreach (0 !== ($parts & 2) ? $chord : [] as $s) {
                foreach ([0, 3, 7, 10] as $interval) {
                    $out[16 * $bar + $s][] = [0, 54 + ($root + $interval) % 12, mt_rand(50, 85), 5.0];
                }
            }
        }

        return $out;
    }

    /**
     * Adds music to a score.
     *
     * @param list<array{float, list<string>}>              $onsets
     * @param array<int, list<array{int, int, int, float}>> $music
     * @param callable(int): float                          $time   of a step
     *
     * @return list<array{float, list<string>}> the onsets, and those of notes that begin where no drum is struck
     */
    private function accompanied(Score $score, array $onsets, array $music, callable $time, float $step): array
    {
        $score->program(0, [0, 4, 5, 16, 24, 48, 61, 89][mt_rand(0, 7)]);
        $score->program(1, [32, 33, 38, 39][mt_rand(0, 3)]);
        $struck = array_map(static fn (float $at): string => \sprintf('%.4f', $at), array_column($onsets, 0));
        foreach ($music as $at => $notes) {
            foreach ($notes as [$channel, $note, $velocity, $steps]) {
                $score->note($time($at), $steps * $step, $channel, $note, $velocity);
            }
            if (!\in_array(\sprintf('%.4f', $time($at)), $struck, true)) {
                $onsets[] = [$time($at), []];
            }
        }
        usort($onsets, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

        return $onsets;
    }

    /**
     * @param array<string, mixed>                 $truth
     * @param list<array{float, string, int, int}> $strikes of synthesised drums
     * @param StereoBlock|null                     $tones   in place of what the soundfont plays
     *
     * @return array<string, mixed>
     */
    private function write(string $group, int $seed, Score $score, ?float $seconds, array $truth, ?string $soundfont = null, array $strikes = [], ?StereoBlock $tones = null): array
    {
        $soundfont ??= $this->soundfonts[mt_rand(0, \count($this->soundfonts) - 1)];
        $path = \sprintf('%s/%s-%04d.wav', $this->folder, $group, $seed);
        $score = \in_array($soundfont, $this->banks, true) ? $score : $score->onPlainKit();
        $score->render($soundfont, $path.'.long.wav', 0 === mt_rand(0, 2));
        $long = SoundFile::open($path.'.long.wav');
        $block = $tones ?? ([] === $strikes ? $long->read(0, $long->frames()) : self::struck($long->read(0, $long->frames()), $strikes));
        $frames = null === $seconds ? \count($block->left) : (int) round($seconds * 44100);
        $block->peak() > 0.001 || throw new \RuntimeException(basename($soundfont).' has no sound for this: leave it out.');
        $gain = min(1.0, 0.95 / $block->peak());
        $block = $block->append(StereoBlock::silence(max(0, $frames - $block->frames())))->slice(0, $frames);
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        $writer->write(Gain::sides($block, $gain, $gain));
        $writer->close();
        unlink($path.'.long.wav');
        $truth += ['file' => $path, 'soundfont' => [] === $strikes && null === $tones ? basename($soundfont) : 'synthesised'];
        file_put_contents(substr($path, 0, -3).'json', json_encode($truth, \JSON_THROW_ON_ERROR));

        return $truth;
    }

    /** @param list<array{float, string, int, int}> $strikes */
    public static function struck(StereoBlock $with, array $strikes): StereoBlock
    {
        $kit = new SynthKit(44100);
        [$last] = end($strikes) ?: [0.0];
        $frames = max(\count($with->left), (int) (($last + 1.5) * 44100));
        $more = array_fill(0, $frames - \count($with->left), 0.0);
        [$left, $right] = [[...$with->left, ...$more], [...$with->right, ...$more]];
        $levels = ['kick' => 0.7, 'snare' => 0.6, 'clap' => 0.5, 'tom' => 0.55, 'rim' => 0.4, 'cymbal' => 0.3, 'open hat' => 0.28, 'closed hat' => 0.25, 'percussion' => 0.35];
        foreach ($strikes as [$at, $kind, $note, $velocity]) {
            $level = $levels[$kind] * ($velocity / 127) ** 1.4;
            $from = (int) ($at * 44100);
            foreach ($kit->sound('percussion' === $kind || 'tom' === $kind ? $kind.' '.$note : $kind) as $i => $x) {
                if ($from + $i >= $frames) {
                    break;
                }
                $left[$from + $i] += $level * $x;
                $right[$from + $i] += $level * $x;
            }
        }

        return new StereoBlock(array_values($left), array_values($right));
    }
}
