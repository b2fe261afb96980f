<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\Window;

/** How a note of an instrument sounds over time: how loud each of its bands is, column by column, and the whole. */
final readonly class NotePicture
{
    public const COLUMNS = 72;
    public const BANDS = 30;
    public const SECONDS = 1.8;
    /** How long the note is held. */
    public const HELD = 1.1;
    private const LOWEST_HZ = 40.0;
    private const HIGHEST_HZ = 16_000.0;
    /** What lies so far below the loudest is not drawn. */
    private const RANGE_DB = 66.0;

    /**
     * @param list<int> $bands 0 to 255, column by column, the lowest first
     * @param list<int> $level 0 to 255 by column
     */
    private function __construct(public array $bands, public array $level)
    {
    }

    public static function of(Beat $beat, Keys $keys, int $pitch, int $velocity, PadSounds $sounds): self
    {
        $voices = (new VoicePlanner($beat, $sounds))->note($keys, $pitch, $velocity, 0, self::HELD);
        $renderer = new VoiceRenderer($sounds);
        $signal = [];
        for ($at = 0, $end = (int) (self::SECONDS * Beat::SAMPLE_RATE) + 4096; $at < $end; $at += 4096) {
            $block = $renderer->render(array_map(static fn (Voice $v): array => [$v, $v->start - $at], $voices), 4096) ?? StereoBlock::silence(4096);
            foreach ($block->left as $i => $l) {
                $signal[] = 0.5 * ($l + $block->right[$i]);
            }
        }

        return self::drawn($signal);
    }

    /** @param list<float> $signal */
    private static function drawn(array $signal): self
    {
        $fft = new Fft(2048);
        $window = Window::hann(2048);
        $step = (int) (self::SECONDS * Beat::SAMPLE_RATE / self::COLUMNS);
        $edges = array_map(static fn (int $b): int => max(1, (int) round(self::LOWEST_HZ * (self::HIGHEST_HZ / self::LOWEST_HZ) ** ($b / self::BANDS) * 2048 / Beat::SAMPLE_RATE)), range(0, self::BANDS));
        $powers = $peaks = [];
        for ($c = 0; $c < self::COLUMNS; ++$c) {
            $part = array_pad(\array_slice($signal, $c * $step, 2048), 2048, 0.0);
            $peaks[] = Peak::of(\array_slice($signal, $c * $step, $step));
            foreach ($part as $i => $x) {
                $part[$i] = $x * $window[$i];
            }
            $magnitudes = $fft->magnitudes($part);
            for ($b = 0; $b < self::BANDS; ++$b) {
                $powers[] = Peak::of(\array_slice($magnitudes, $edges[$b], max(1, $edges[$b + 1] - $edges[$b])));
            }
        }

        return new self(self::scaled($powers), self::scaled($peaks));
    }

    /**
     * @param list<float> $values
     *
     * @return list<int> in decibels under the loudest
     */
    private static function scaled(array $values): array
    {
        $most = max(1e-9, Peak::of($values));

        return array_map(static fn (float $v): int => (int) max(0.0, round(255.0 * (1.0 + 20.0 * log10(max(1e-9, $v) / $most) / self::RANGE_DB))), $values);
    }
}
