<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** One source of a made sound: a wave, a noise or something struck, and how it is tuned, stacked and let fade. */
final readonly class Wave implements Settable
{
    use Settings;

    /** Of one sound. */
    public const MOST = 6;
    public const MOST_PARTIALS = 64;
    /** In which what is struck dies away, where nothing else is said. */
    public const RINGS_MS = 1500.0;

    /**
     * @param float       $width    of a pulse, and where a string is plucked, in percent
     * @param int         $voices   that play it together, apart by up to detune cents and spread percent to the sides
     * @param float       $bright   0 dark to 1 bright: of noise and of what is struck
     * @param int         $times    its pitch times so many
     * @param float       $depth    how far it bends (radians), or multiplies (0 to 1)
     * @param float       $strength how much of its level or depth hangs on the strength, 0 to 1
     * @param float       $decayMs  in which it fades by 60 dB; 0 while it lasts
     * @param float       $sway     percent by which the width of a pulse moves, swayHz times a second
     * @param list<float> $partials amplitudes of the first, second and so on
     */
    public function __construct(
        public WaveKind $kind = WaveKind::Saw,
        public WaveActs $acts = WaveActs::Sounds,
        public float $levelDb = -6.0,
        public int $octave = 0,
        public int $semitones = 0,
        public float $cents = 0.0,
        public float $pan = 0.0,
        public float $width = 50.0,
        public int $voices = 1,
        public float $detune = 14.0,
        public float $spread = 60.0,
        public float $bright = 0.7,
        public int $times = 1,
        public float $depth = 1.0,
        public float $strength = 0.0,
        public float $decayMs = 0.0,
        public float $delayMs = 0.0,
        public float $sway = 0.0,
        public float $swayHz = 0.4,
        public array $partials = [1.0],
    ) {
        if ([] === $partials || \count($partials) > self::MOST_PARTIALS) {
            throw new \InvalidArgumentException(\sprintf('A wave has 1 to %d partials.', self::MOST_PARTIALS));
        }
    }

    public static function parameters(): array
    {
        $why = 'the sound is worked out once for all notes that are alike; its shape, tone and movement move.';

        return [
            'kind' => Parameter::choice('Wave', WaveKind::Saw),
            'acts' => Parameter::choice('What it does', WaveActs::Sounds),
            'levelDb' => Parameter::number('Level', 'dB', -60.0, 6.0, -6.0, 0.5)->settled($why),
            'octave' => Parameter::whole('Octave', '', -4, 4, 0),
            'semitones' => Parameter::whole('Semitones', '', -24, 24, 0),
            'cents' => Parameter::number('Cents', 'ct', -100.0, 100.0, 0.0, 1.0)->settled($why),
            'pan' => Parameter::number('Place', '', -1.0, 1.0, 0.0, 0.05, 2)->settled($why),
            'width' => Parameter::number('Width', '%', 1.0, 99.0, 50.0, 1.0, 0)->settled($why),
            'voices' => Parameter::whole('Stacked', '', 1, 9, 1),
            'detune' => Parameter::number('Apart by', 'ct', 0.0, 100.0, 14.0, 1.0, 0)->settled($why),
            'spread' => Parameter::number('Spread', '%', 0.0, 100.0, 60.0, 1.0, 0)->settled($why),
            'bright' => Parameter::number('Bright', '', 0.0, 1.0, 0.7, 0.01, 2)->settled($why),
            'times' => Parameter::whole('Pitch times', '', 1, 16, 1),
            'depth' => Parameter::number('Depth', '', 0.0, 12.0, 1.0, 0.05, 2)->bent(2.0)->settled($why),
            'strength' => Parameter::number('By strength', '', 0.0, 1.0, 0.0, 0.05, 2)->settled($why),
            'decayMs' => Parameter::number('Fades in', 'ms', 0.0, 20_000.0, 0.0, 1.0, 0)->bent(3.0)->settled($why),
            'delayMs' => Parameter::number('Begins after', 'ms', 0.0, 2000.0, 0.0, 1.0, 0)->bent(2.0)->settled($why),
            'sway' => Parameter::number('Width sways by', '%', 0.0, 45.0, 0.0, 1.0, 0)->settled($why),
            'swayHz' => Parameter::number('Sways', 'Hz', 0.02, 10.0, 0.4, 0.01, 2)->bent(2.0)->settled($why),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{kind: WaveKind, acts: WaveActs, levelDb: float, octave: int, semitones: int, cents: float, pan: float, width: float, voices: int, detune: float, spread: float, bright: float, times: int, depth: float, strength: float, decayMs: float, delayMs: float, sway: float, swayHz: float, partials: list<float>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** Its pitch against that of the note. */
    public function ratio(): float
    {
        return $this->times * 2.0 ** ($this->octave + $this->semitones / 12.0 + $this->cents / 1200.0);
    }

    /** @return array<string, mixed> what differs from a wave that is left as it is */
    public function toArray(): array
    {
        $plain = ['kind' => $this->kind->value];
        foreach (self::parameters() as $field => $parameter) {
            $value = $this->settings()[$field];
            if ($value !== $parameter->default) {
                $plain[$field] = $value instanceof \BackedEnum ? $value->value : $value;
            }
        }

        return WaveKind::Partials === $this->kind ? [...$plain, 'partials' => $this->partials] : $plain;
    }
}
