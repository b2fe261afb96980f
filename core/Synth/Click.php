<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;

/** The metronome: two short knocks, the higher for the first beat of a bar. */
enum Click: string
{
    public const SECONDS = 0.06;
    public const NAMES = ['wood', 'glass', 'shaker'];

    case Wood = 'wood';
    case Glass = 'glass';
    case Shaker = 'shaker';

    public function label(): string
    {
        return ucfirst($this->value);
    }

    /** Both clicks, each SECONDS long, the accented one first. */
    public function both(int $sampleRate): StereoBlock
    {
        $tone = new Tone($sampleRate);
        $sound = [];
        foreach ([1.0, 0.75] as $height) {
            $sine = static fn (float $hz): array => $tone->sine(self::SECONDS, $height * $hz);
            [$mixed, $decay] = match ($this) {
                self::Wood => [Tone::mixed([[$sine(1660.0), 0.35], [$sine(1660.0 * 2.7), 0.1]]), 0.04],
                self::Glass => [Tone::mixed([[$sine(3100.0), 0.26], [$sine(3100.0 * 2.31), 0.12], [$sine(3100.0 * 3.6), 0.06]]), 0.055],
                self::Shaker => [Tone::mixed([[$tone->band(self::SECONDS, 2600.0 * $height, 9000.0, 31), 0.9 * $height]]), 0.03],
            };
            array_push($sound, ...Tone::shaped($mixed, $tone->envelope(self::SECONDS, 0.0008, $decay)));
        }

        return new StereoBlock($sound, $sound);
    }
}
