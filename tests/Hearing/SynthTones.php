<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Synth\OldPiano;

/** Instruments that no soundfont has: partials of random strength that die away or stay, drawn by mt_rand. */
final class SynthTones
{
    private const RATE = 44100;
    private const PARTIALS = 14;

    /**
     * @param list<array{float, float, int}> $notes start and end in seconds, MIDI number
     */
    public static function played(array $notes): StereoBlock
    {
        if (0 === mt_rand(0, 2)) {
            return (new OldPiano(self::RATE))->recording(array_map(static fn (array $n): array => [$n[2], $n[0], $n[1] - $n[0], mt_rand(60, 110)], $notes), max([0.0, ...array_column($notes, 1)]) + 0.6);
        }
        $slope = mt_rand(60, 220) / 100;
        $odd = 0 === mt_rand(0, 4);
        $strong = mt_rand(1, 3);
        $held = 0 === mt_rand(0, 2);
        $decay = mt_rand(8, 60) / 10;
        $stiff = 0 === mt_rand(0, 2) ? mt_rand(1, 6) / 10_000 : 0.0;
        $levels = [];
        for ($h = 1; $h <= self::PARTIALS; ++$h) {
            $levels[$h] = $odd && 0 === $h % 2 ? 0.0 : $h ** -$slope * mt_rand(40, 140) / 100 * ($h === $strong ? 1.8 : 1.0);
        }
        $end = max([0.0, ...array_column($notes, 1)]) + 0.6;
        $mix = array_fill(0, (int) ($end * self::RATE), 0.0);
        foreach ($notes as [$from, $to, $pitch]) {
            $hz = 440.0 * 2 ** (($pitch - 69) / 12);
            $first = (int) ($from * self::RATE);
            $frames = min(\count($mix) - $first, (int) (($to - $from + 0.12) * self::RATE));
            foreach ($levels as $h => $level) {
                $own = $h * $hz * sqrt(1 + $stiff * $h * $h);
                if (0.0 === $level || $own > 12_000) {
                    continue;
                }
                $turn = 2 * \M_PI * $own / self::RATE;
                for ($i = 0; $i < $frames; ++$i) {
                    $t = $i / self::RATE;
                    $gain = min(1.0, $t / 0.004) * ($held ? 1.0 : exp(-$decay * sqrt($h) * $t * 0.4)) * min(1.0, ($frames - $i) / (0.1 * self::RATE));
                    $mix[$first + $i] += 0.1 * $level * $gain * sin($turn * $i + $h);
                }
            }
        }

        return new StereoBlock(array_values($mix), array_values($mix));
    }
}
