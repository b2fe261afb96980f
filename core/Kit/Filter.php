<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/**
 * The filter of a sound, and what moves its cut-off: an envelope (rises, falls to a level and stays there), the note's
 * height and the strength of the strike. Letting go brings the envelope back over its release, where that is set.
 */
final readonly class Filter implements Settable
{
    use Settings;

    public const LOWEST_HZ = 20.0;
    public const HIGHEST_HZ = 20_000.0;
    public const MOST_CENTS = 9600.0;

    /**
     * @param bool  $steep         24 dB an octave instead of 12
     * @param float $resonance     0 none to 1
     * @param float $driveDb       into a soft limit before the filter
     * @param float $envelopeCents how far the envelope moves the cut-off
     * @param float $sustain       where the envelope stays after its decay, 0 to 1
     * @param float $keyTracking   1: the cut-off follows the pitch, 0: it does not
     * @param float $strengthCents how far the strongest strike moves the cut-off
     * @param float $releaseMs     in which the envelope goes back when the sound is let go; 0 where it then stays
     */
    public function __construct(
        public FilterShape $shape = FilterShape::Off,
        public bool $steep = false,
        public float $cutoffHz = 2000.0,
        public float $resonance = 0.0,
        public float $driveDb = 0.0,
        public float $envelopeCents = 0.0,
        public float $attackMs = 0.0,
        public float $decayMs = 200.0,
        public float $sustain = 0.0,
        public float $keyTracking = 0.0,
        public float $strengthCents = 0.0,
        public float $releaseMs = 0.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'shape' => Parameter::choice('Filter', FilterShape::Off),
            'steep' => Parameter::onOff('24 dB an octave'),
            'cutoffHz' => Parameter::number('Cut-off', 'Hz', self::LOWEST_HZ, self::HIGHEST_HZ, 2000.0, 1.0, 0)->bent(3.0)->moving(),
            'resonance' => Parameter::number('Resonance', '', 0.0, 1.0, 0.0, 0.01, 2)->moving(),
            'driveDb' => Parameter::number('Drive', 'dB', 0.0, 36.0, 0.0, 0.5)->moving(),
            'envelopeCents' => Parameter::number('Envelope to the cut-off', 'cents', -self::MOST_CENTS, self::MOST_CENTS, 0.0, 50.0, 0)->moving(),
            'attackMs' => Parameter::number('Attack of the filter', 'ms', 0.0, Envelope::MOST_MS, 0.0, 1.0)->bent(3.0)->moving(),
            'decayMs' => Parameter::number('Decay of the filter', 'ms', 0.0, Envelope::MOST_MS, 200.0, 1.0)->bent(3.0)->moving(),
            'sustain' => Parameter::number('Sustain of the filter', '', 0.0, 1.0, 0.0, 0.01, 2)->moving(),
            'keyTracking' => Parameter::number('Key to the cut-off', '', 0.0, 1.0, 0.0, 0.05, 2)->moving(),
            'strengthCents' => Parameter::number('Strength to the cut-off', 'cents', -self::MOST_CENTS, self::MOST_CENTS, 0.0, 50.0, 0)->moving(),
            'releaseMs' => Parameter::number('Release of the filter', 'ms', 0.0, Envelope::MOST_MS, 0.0, 1.0)->bent(3.0)->moving(),
        ];
    }

    public function acts(): bool
    {
        return FilterShape::Off !== $this->shape || $this->driveDb > 0.0;
    }

    public function with(array $changed): static
    {
        /** @var array{shape: FilterShape, steep: bool, cutoffHz: float, resonance: float, driveDb: float, envelopeCents: float, attackMs: float, decayMs: float, sustain: float, keyTracking: float, strengthCents: float, releaseMs: float} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }
}
