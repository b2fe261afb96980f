<?php

namespace Pestle\App\Demo;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Theory\Ticks;

/** How the demo's beats are written down. */
final class Score
{
    /** @param list<array<string, mixed>> $changes */
    public static function beat(string $name, array $changes): Beat
    {
        $beat = Beat::empty($name);
        foreach ($changes as $change) {
            $beat = Changes::apply(Changes::read($change), $beat);
        }

        return $beat;
    }

    /** @return list<array<string, mixed>> tempo, key, and a kit of the shelf as the first part */
    public static function kit(KitSheet $kit, float $bpm, string $key, string $name, string $colour): array
    {
        return [
            ['type' => 'set-tempo', 'bpm' => $bpm],
            ['type' => 'set-key', 'key' => $key],
            ['type' => 'load-kit', 'part' => 'part-1', 'sheet' => BeatCodec::json($kit->toArray())],
            ['type' => 'set-part', 'part' => 'part-1', 'name' => $name, 'colour' => $colour],
        ];
    }

    /**
     * @param list<array{0: float, 1: float, 2?: float}> $points bar, value, and bend to the next
     * @param string                                     $of     id of a section or pattern; empty for the song
     *
     * @return array<string, mixed> a parameter that moves
     */
    public static function moves(string $path, array $points, string $of = ''): array
    {
        $scope = match ($of[0] ?? '') {
            's' => 'section',
            'p' => 'pattern',
            default => 'song',
        };

        return ['type' => 'set-movement', 'path' => 'mixer/'.$path, 'scope' => $scope, 'of' => $of, 'points' => array_map(static fn (array $p): array => [$p[0] * Ticks::PER_BAR, $p[1], $p[2] ?? 0.0], $points)];
    }

    /**
     * A sound over the song.
     *
     * @param array{hash: string, frames: int} $sample
     * @param array<string, mixed>             $set    where it differs: from, to and what a clip is set to
     *
     * @return array<string, mixed>
     */
    public static function over(string $id, string $track, string $name, array $sample, float $bar, array $set = []): array
    {
        return ['type' => 'add-clip', 'id' => $id, 'track' => $track, 'name' => $name, 'sample' => $sample['hash'], 'rate' => Beat::SAMPLE_RATE, 'at' => (int) round($bar * Ticks::PER_BAR), 'from' => 0, 'to' => $sample['frames'], ...$set];
    }

    /**
     * @param array{hash: string, frames: int} $sample
     *
     * @return array<string, mixed> an instrument made of one recorded note
     */
    public static function keys(string $part, array $sample, string $name, int $root): array
    {
        return ['type' => 'add-part', 'id' => $part, 'name' => $name, 'sample' => $sample['hash'], 'start' => 0, 'end' => $sample['frames'], 'rootCents' => 100 * $root];
    }

    /** @return array<string, string> an instrument made of a sound of the shelf */
    public static function made(string $part, string $shelf, string $name): array
    {
        return ['type' => 'add-part', 'id' => $part, 'name' => $name, 'shelf' => $shelf];
    }

    /**
     * @param list<list<int|string|null>>     $events
     * @param array<string, int|string|float> $feel
     *
     * @return list<array<string, mixed>> a pattern of four bars
     */
    public static function pattern(string $id, string $name, string $part, array $events, string $what, array $feel): array
    {
        return [
            'p1' === $id ? ['type' => 'set-pattern', 'pattern' => 'p1', 'name' => $name] : ['type' => 'add-pattern', 'id' => $id, 'name' => $name, 'part' => $part],
            ['type' => 'set-pattern', 'pattern' => $id, 'bars' => 4],
            ...[] === $feel ? [] : [['type' => 'set-feel', 'patterns' => [$id], ...$feel]],
            ['type' => 'edit-'.$what, 'pattern' => $id, $what => $events],
        ];
    }

    /**
     * @param list<array{string, string, int, list<string|null>}> $sections id, name, repeats, and the pattern of each part
     *
     * @return list<array<string, mixed>>
     */
    public static function song(array $sections): array
    {
        $changes = [];
        foreach ($sections as $place => [$id, $name, $repeats, $patterns]) {
            $changes[] = 's1' === $id ? ['type' => 'set-section', 'section' => 's1', 'name' => $name] : ['type' => 'add-section', 'id' => $id, 'name' => $name];
            $changes[] = ['type' => 'set', 'song/e'.($place + 1).'/repeats' => $repeats];
            foreach ($patterns as $i => $pattern) {
                $changes[] = ['type' => 'set-cell', 'section' => $id, 'part' => 'part-'.($i + 1), 'pattern' => $pattern ?? ''];
            }
        }

        return $changes;
    }

    /**
     * @param array<string, array{float, float}>                    $levels gain and pan by channel
     * @param list<array{string, int, string, float, float, float}> $bands  channel, band, shape, Hz, dB and Q
     *
     * @return list<array<string, mixed>>
     */
    public static function mix(array $levels, array $bands): array
    {
        $changes = [];
        foreach ($levels as $channel => [$gain, $pan]) {
            $changes[] = ['type' => 'set', 'under' => 'mixer/'.$channel, 'gainDb' => $gain, 'pan' => $pan];
        }
        foreach ($bands as [$channel, $n, $shape, $hz, $gain, $q]) {
            $changes[] = ['type' => 'set', 'under' => 'mixer/'.$channel.'/inserts/i1/bands/'.$n, 'shape' => $shape, 'hz' => $hz, 'gainDb' => $gain, 'q' => $q, 'on' => true];
        }

        return $changes;
    }

    /**
     * An equalizer in front of what the master has already.
     *
     * @param list<array{string, float, float, float}> $bands shape, Hz, dB, Q
     *
     * @return list<array<string, mixed>>
     */
    public static function tone(array $bands): array
    {
        $changes = [['type' => 'add-insert', 'node' => 'master', 'kind' => 'equalizer'], ['type' => 'set-insert', 'node' => 'master', 'insert' => 'i2', 'place' => 0]];
        foreach ($bands as $n => [$shape, $hz, $gain, $q]) {
            $changes[] = ['type' => 'set', 'under' => 'mixer/master/inserts/i2/bands/'.($n + 1), 'shape' => $shape, 'hz' => $hz, 'gainDb' => $gain, 'q' => $q, 'on' => true];
        }

        return $changes;
    }

    /** @return list<array<string, mixed>> a channel makes room for another */
    public static function room(string $channel, string $for, float $depth, float $release): array
    {
        return [
            ['type' => 'add-insert', 'node' => $channel, 'kind' => 'ducker'],
            ['type' => 'set-insert', 'node' => $channel, 'insert' => 'i3', 'key' => $for],
            ['type' => 'set', 'under' => 'mixer/'.$channel.'/inserts/i3', 'depthDb' => $depth, 'thresholdDb' => -26.0, 'attackMs' => 0.5, 'holdMs' => 20.0, 'releaseMs' => $release],
        ];
    }

    /**
     * @param array<string, float> $from level at which each channel is sent there
     *
     * @return list<array<string, mixed>> a return with a ready chain
     */
    public static function shared(string $name, string $chain, array $from): array
    {
        $first = array_key_first($from);
        $changes = [['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => $name, 'from' => $first], ['type' => 'copy-inserts', 'node' => 'r1', 'chain' => $chain]];
        foreach ($from as $channel => $gain) {
            if ($channel !== $first) {
                $changes[] = ['type' => 'add-send', 'node' => $channel, 'to' => 'r1'];
            }
            $changes[] = ['type' => 'set', 'under' => 'mixer/'.$channel.'/sends/r1', 'gainDb' => $gain];
        }

        return $changes;
    }

    /** @return array<string, mixed> */
    public static function press(string $insert, float $threshold, float $ratio, float $attack, float $release, float $makeup): array
    {
        return ['type' => 'set', 'under' => 'mixer/'.$insert, 'on' => true, 'thresholdDb' => $threshold, 'ratio' => $ratio, 'attackMs' => $attack, 'releaseMs' => $release, 'makeupDb' => $makeup];
    }

    /** @return array{int, int, int, int} */
    public static function note(int $bar, int $step, int $pitch, int $velocity, int $length): array
    {
        return [$bar * Ticks::PER_BAR + $step * Ticks::PER_STEP, $pitch, $velocity, $length];
    }

    /** @return array{int, string, int, int} */
    public static function hit(int $bar, int $step, string $pad, int $velocity): array
    {
        return [$bar * Ticks::PER_BAR + $step * Ticks::PER_STEP, $pad, $velocity, 240];
    }

    /** @return array{int, string, int, int, int, int, int, string|null, int} several strikes over a step */
    public static function roll(int $bar, int $step, string $pad, int $velocity, int $strikes): array
    {
        return [...self::hit($bar, $step, $pad, $velocity), 100, 0, 0, null, $strikes];
    }
}
