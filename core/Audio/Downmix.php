<?php

namespace Pestle\Core\Audio;

/**
 * How channels of a file come to two: front left and right as they are, those of a side to it and those of the middle to both
 * at −3 dB, the channel for low-frequency effects left out.
 * Source: ITU-R BS.775-3, annex 4; places of channels from Microsoft's WAVEFORMATEXTENSIBLE.
 */
final class Downmix
{
    private const LOW_FREQUENCY = 0x8;
    /** Places of channels that are left, and right: front, back, of the centre, side, top. */
    private const LEFT = 0x1 | 0x10 | 0x40 | 0x200 | 0x1000 | 0x8000;
    private const RIGHT = 0x2 | 0x20 | 0x80 | 0x400 | 0x4000 | 0x20000;
    private const FRONT = 0x1 | 0x2;
    /** Files of 5.1 and 7.1 that do not say where their channels are. */
    private const USUAL = [6 => 0x3F, 8 => 0x63F];

    /**
     * @param int<3, max> $channels
     * @param int         $places   a bit for each channel, lowest first; 0 when the file does not say
     *
     * @return list<array{float, float}> gain to the left and to the right, of each channel
     */
    public static function gains(int $channels, int $places = 0): array
    {
        $places = 0 === $places ? self::USUAL[$channels] ?? 0 : $places;
        $gains = [];
        for ($bit = 1; $bit <= 0x20000 && \count($gains) < $channels; $bit <<= 1) {
            if ($places & $bit) {
                $gain = $bit & self::FRONT ? 1.0 : \M_SQRT1_2;
                $gains[] = $bit & self::LOW_FREQUENCY ? [0.0, 0.0] : [$bit & self::RIGHT ? 0.0 : $gain, $bit & self::LEFT ? 0.0 : $gain];
            }
        }
        // Channels of no place: the first two are left and right, others to both.
        while (\count($gains) < $channels) {
            $gains[] = match (\count($gains)) {
                0 => [1.0, 0.0],
                1 => [0.0, 1.0],
                default => [\M_SQRT1_2, \M_SQRT1_2],
            };
        }

        return $gains;
    }
}
