<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Analysis\Fitted;
use Pestle\Core\Analysis\Heard;
use Pestle\Core\Analysis\SingleSound;
use Pestle\Core\Analysis\Transcription;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Theory\Key;

/** How well the analysis does on recordings whose truth is known. */
final class Scoring
{
    /**
     * @param list<string> $truths drum loops
     *
     * @return array<string, float>
     */
    public static function drums(array $truths): array
    {
        $onsets = [0, 0];
        $kinds = [0, 0];
        $four = 0;
        $tempo = ['within 4 %' => 0, 'within 4 %, a factor of two forgiven' => 0, 'within 0.5 %' => 0];
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $source = SoundFile::open($truth->file);
            $heard = Heard::in($source);
            $times = array_map(static fn ($hit): float => $hit->frame / $source->sampleRate(), $heard->hits);
            $onsets[0] += 2 * self::matches(array_column($truth->onsets, 0), $times, 0.02);
            $onsets[1] += \count($truth->onsets) + \count($times);
            foreach ($heard->hits as $i => $hit) {
                $sounding = $truth->kindsAt($times[$i]);
                $kinds[1] += [] === $sounding ? 0 : 1;
                $kinds[0] += \in_array($hit->kind->value, $sounding, true) ? 1 : 0;
            }
            $four += '4/4' === $heard->tempo?->meter->meter->name() ? 1 : 0;
            $ratio = ($heard->tempo->bpm ?? 0.0) / $truth->bpm;
            $tempo['within 4 %'] += abs($ratio - 1.0) <= 0.04 ? 1 : 0;
            $tempo['within 4 %, a factor of two forgiven'] += min(abs($ratio - 1.0), abs($ratio / 2.0 - 1.0), abs($ratio * 2.0 - 1.0)) <= 0.04 ? 1 : 0;
            $tempo['within 0.5 %'] += abs($ratio - 1.0) <= 0.005 ? 1 : 0;
        }
        $out = ['onsets F' => $onsets[0] / $onsets[1], 'kinds right' => $kinds[0] / $kinds[1], 'in four' => $four / \count($truths)];
        foreach ($tempo as $how => $count) {
            $out['tempo '.$how] = $count / \count($truths);
        }

        return $out;
    }

    /**
     * @param list<string> $truths drums in bars of three, six and twelve
     *
     * @return array<string, float>
     */
    public static function metered(array $truths): array
    {
        $counts = ['tempo' => 0, 'meter' => 0, 'both' => 0, 'bars begin right' => 0];
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $heard = Heard::in(SoundFile::open($truth->file));
            $tempo = $truth->isTempo($heard->tempo->bpm ?? 0.0, 0.04);
            $meter = $heard->tempo?->meter->meter->name() === $truth->meter;
            $counts['tempo'] += (int) $tempo;
            $counts['meter'] += (int) $meter;
            $counts['both'] += (int) ($tempo && $meter);
            $counts['bars begin right'] += (int) ($tempo && $meter && ($heard->beats->downbeats[0] ?? 9.0) < 0.07);
        }
        $out = [];
        foreach ($counts as $what => $count) {
            $out['in three, six, twelve: '.$what] = $count / \count($truths);
        }

        return $out;
    }

    /**
     * @param list<string> $truths
     *
     * @return array<string, float>
     */
    public static function drifting(array $truths): array
    {
        $sum = 0.0;
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $last = $truth->beats[\count($truth->beats) - 1];
            $found = array_values(array_filter(Heard::in(SoundFile::open($truth->file))->beats->times ?? [], static fn (float $t): bool => $t < $last + 0.1));
            $sum += 2 * self::matches($truth->beats, $found, 0.07) / (\count($truth->beats) + \count($found));
        }

        return ['beats F where the tempo changes' => $sum / \count($truths)];
    }

    /**
     * 1 for the key, 0.5 for a fifth off, 0.3 for the relative key, 0.2 for the parallel one.
     *
     * @param list<string> $truths
     *
     * @return array<string, float>
     */
    public static function chords(array $truths): array
    {
        $sum = $tuned = $inTime = 0.0;
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $right = Key::named($truth->key);
            $heard = Heard::in(SoundFile::open($truth->file));
            $found = $heard->key?->key;
            $inTime += abs(($heard->tempo->bpm ?? 0.0) / $truth->bpm - 1.0) <= 0.04 ? 1 : 0;
            $tuned += abs($heard->chroma->cents - $truth->cents) <= 10.0 ? 1 : 0;
            $apart = null === $found ? -1 : ($found->tonic - $right->tonic + 12) % 12;
            $sum += match (true) {
                null === $found => 0.0,
                $found->minor === $right->minor => [0 => 1.0, 5 => 0.5, 7 => 0.5][$apart] ?? 0.0,
                ($right->minor ? 3 : 9) === $apart => 0.3,
                0 === $apart => 0.2,
                default => 0.0,
            };
        }

        return ['key score' => $sum / \count($truths), 'tuning within 10 cents' => $tuned / \count($truths), 'tempo of chord loops within 4 %' => $inTime / \count($truths)];
    }

    /**
     * @param list<string> $truths
     *
     * @return array<string, float>
     */
    public static function notes(array $truths): array
    {
        $right = 0;
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $pitch = Heard::in(SoundFile::open($truth->file))->pitch;
            $right += null !== $pitch && abs($pitch->note - $truth->midi - 0.01 * $truth->cents) <= 0.1 ? 1 : 0;
        }

        return ['pitch within 10 cents' => $right / \count($truths)];
    }

    /**
     * F of notes: right where pitch is and the start within 50 ms, as is usual in transcription.
     *
     * @param list<string> $truths
     */
    public static function phrases(array $truths): float
    {
        $right = $all = 0;
        foreach ($truths as $path) {
            $truth = Truth::read($path);
            $heard = Transcription::of(SoundFile::open($truth->file));
            $played = $found = [];
            foreach ($truth->notes as [$start, , $pitch]) {
                $played[$pitch][] = $start;
            }
            foreach ($heard as $note) {
                $found[$note->pitch][] = $note->start;
            }
            foreach ($played as $pitch => $starts) {
                $right += 2 * self::matches($starts, $found[$pitch] ?? [], 0.05);
            }
            $all += \count($truth->notes) + \count($heard);
        }

        return $right / max(1, $all);
    }

    /**
     * @param list<string> $files WAVs of single sounds
     *
     * @return array<string, float>
     */
    public static function sounds(array $files): array
    {
        $right = [];
        [$cases, $roles] = SingleSounds::cases($files);
        foreach ($cases as $i => $features) {
            $probabilities = Fitted::probabilities(Fitted::network('sounds')->outputs($features) ?: [0.0]);
            $right[SingleSound::ROLES[$roles[$i]]][] = (int) (max($probabilities) === $probabilities[$roles[$i]]);
        }
        $share = static fn (array $right): float => array_sum($right) / max(1, \count($right));

        return ['roles' => $share(array_merge(...array_values($right))), ...array_map($share, $right)];
    }

    /**
     * How many of the first have one of the second near, none counted twice.
     *
     * @param list<float> $truth
     * @param list<float> $found
     */
    private static function matches(array $truth, array $found, float $near): int
    {
        $matches = 0;
        foreach ($truth as $time) {
            $best = null;
            foreach ($found as $i => $t) {
                if (abs($t - $time) <= $near && (null === $best || abs($t - $time) < abs($found[$best] - $time))) {
                    $best = $i;
                }
            }
            if (null !== $best) {
                unset($found[$best]);
                ++$matches;
            }
        }

        return $matches;
    }
}
