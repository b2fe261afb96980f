<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;

/**
 * A note of a made sound before its shape and its tone: what its waves give together. Every value follows from the frame it is wanted
 * for, so that any stretch of it can be worked out by itself; it goes on until it is let go.
 */
final readonly class MadeNote
{
    public const BLOCK = 4096;
    /** As long as a note goes on: a quarter of an hour. */
    public const FRAMES = 15 * 60 * self::RATE;
    private const RATE = 44_100;
    /** What begins does so over a millisecond. */
    private const BEGIN = 44;
    /** Bent waves are kept to where what folds back lies above 16 kHz. */
    private const BENT_HZ = 28_000.0;
    /** Of two that are multiplied both are: what they give reaches as far as both together. */
    private const MULTIPLIED_HZ = 14_000.0;

    public string $name;

    /** @param list<Wave> $waves */
    public function __construct(private array $waves, private int $pitch, private int $velocity, private int $tuneCents = 0)
    {
        $answers = [] !== array_filter($waves, static fn (Wave $w): bool => $w->strength > 0.0);
        $this->name = 'made '.hash('xxh128', serialize($waves)).' '.(100 * $pitch + $tuneCents).($answers ? ' '.$velocity : '');
    }

    /** @param int $number of blocks of BLOCK frames */
    public function block(int $number, Wavetables $tables): StereoBlock
    {
        $at = $number * self::BLOCK;
        $left = $right = array_fill(0, self::BLOCK, 0.0);
        $same = true;
        foreach ($this->heard() as [$wave, $acting]) {
            $sides = $this->sides($wave, $acting, $at, $tables);
            $gains = $this->gains($wave, $at, 10.0 ** ($wave->levelDb / 20.0) * $this->strength($wave));
            $angle = ($wave->pan + 1.0) * \M_PI / 4.0;
            $centred = 0.0 === $wave->pan && $sides[0] === $sides[1];
            $left = self::added($left, $sides[0], $gains, $centred ? 1.0 : \M_SQRT2 * cos($angle));
            if ($centred && $same) {
                $right = $left;
            } else {
                $right = self::added($right, $sides[1], $gains, $centred ? 1.0 : \M_SQRT2 * sin($angle));
                $same = false;
            }
        }

        return new StereoBlock($left, $same ? $left : $right);
    }

    /** @return list<array{Wave, list<Wave>}> what is heard, each with those that act on it */
    private function heard(): array
    {
        $heard = $acting = [];
        foreach ($this->waves as $wave) {
            if (WaveActs::Sounds === $wave->acts || [] === $heard) {
                $heard[] = $wave;
                $acting[] = [];
            } else {
                $acting[\count($heard) - 1][] = $wave;
            }
        }

        return array_map(static fn (Wave $wave, array $acting): array => [$wave, $acting], $heard, $acting);
    }

    private function hz(Wave $wave): float
    {
        return 440.0 * 2.0 ** (($this->pitch - 69 + $this->tuneCents / 100.0) / 12.0) * $wave->ratio();
    }

    private function strength(Wave $wave): float
    {
        return 1.0 - $wave->strength * (1.0 - $this->velocity / 127.0);
    }

    /**
     * @param list<Wave> $acting
     *
     * @return array{list<float>, list<float>}
     */
    private function sides(Wave $wave, array $acting, int $at, Wavetables $tables): array
    {
        $by = static fn (WaveActs $acts): array => array_values(array_filter($acting, static fn (Wave $w): bool => $w->acts === $acts));
        $sides = match (true) {
            WaveKind::Noise === $wave->kind => $this->noise($wave, $at, $tables),
            $wave->kind->isStruck() => array_fill(0, 2, $this->struck($wave, $at - self::frames($wave->delayMs))),
            default => $this->periodic($wave, $by(WaveActs::Bends), $by(WaveActs::Restarts)[0] ?? null, $at, $tables, [] === $by(WaveActs::Multiplies) ? Wavetables::HIGHEST_HZ : self::MULTIPLIED_HZ),
        };
        foreach ($by(WaveActs::Multiplies) as $other) {
            $times = $this->plain($other, $at, $tables);
            $share = min(1.0, $other->depth) * $this->strength($other);
            $sides = [self::multiplied($sides[0], $times, $share), $sides[0] === $sides[1] ? [] : self::multiplied($sides[1], $times, $share)];
            $sides[1] = [] === $sides[1] ? $sides[0] : $sides[1];
        }

        return $sides;
    }

    /**
     * @param int $since frames from the strike to the start of the block; before it nothing rings
     *
     * @return list<float>
     */
    private function struck(Wave $wave, int $since): array
    {
        $silent = max(0, min(self::BLOCK, -$since));

        return [...array_fill(0, $silent, 0.0), ...Modes::ringing(Modes::of($wave, $this->hz($wave)), max(0, $since), self::BLOCK - $silent, self::RATE)];
    }

    /** @return array{list<float>, list<float>} */
    private function noise(Wave $wave, int $at, Wavetables $tables): array
    {
        // Notes of a chord do not have the same noise.
        $from = ($at + 7919 * $this->pitch) % Wavetables::NOISE;
        $read = static function (int $side) use ($wave, $from, $tables): array {
            $table = $tables->noise($wave->bright, $side);
            $part = \array_slice($table, $from, self::BLOCK);

            return \count($part) < self::BLOCK ? [...$part, ...\array_slice($table, 0, self::BLOCK - \count($part))] : $part;
        };
        $left = $read(0);

        return [$left, $wave->spread < 1.0 ? $left : $read(1)];
    }

    /**
     * @param list<Wave> $bending
     * @param float      $mostHz  up to which it has partials
     *
     * @return array{list<float>, list<float>}
     */
    private function periodic(Wave $wave, array $bending, ?Wave $restarting, int $at, Wavetables $tables, float $mostHz): array
    {
        $hz = null === $restarting ? $this->hz($wave) : $this->hz($restarting);
        $often = null === $restarting ? 1.0 : $this->hz($wave) / $hz;
        $voices = null === $restarting ? $wave->voices : 1;
        $bent = $this->bend($bending, $hz, $at, $tables);
        $table = $tables->of($wave, [] === $bending ? Wavetables::partials($hz, $mostHz) : $this->partialsWhenBent($hz, $bending), $often);
        $left = $right = array_fill(0, self::BLOCK, 0.0);
        $gain = 1.0 / sqrt($voices);
        for ($v = 0; $v < $voices; ++$v) {
            $way = 1 === $voices ? 0.0 : 2.0 * $v / ($voices - 1) - 1.0;
            $turns = $hz * 2.0 ** ($way * $wave->detune / 2400.0) / self::RATE;
            // Voices that began together would be one loud wave first.
            $phase = fmod($at * $turns + (1 === $voices ? 0.0 : fmod(0.137 + 0.61803398875 * $v, 1.0)), 1.0);
            $place = 0.01 * $wave->spread * $way;
            [$l, $r] = 1 === $voices ? [1.0, 1.0] : [\M_SQRT2 * cos(($place + 1.0) * \M_PI / 4.0), \M_SQRT2 * sin(($place + 1.0) * \M_PI / 4.0)];
            if ($voices > 1 && [] === $bent && (WaveKind::Pulse !== $wave->kind || null !== $restarting)) {
                [$left, $right] = TableReading::added($left, $right, $table, $phase, $turns, $gain * $l, $gain * $r);
                continue;
            }
            $sound = match (true) {
                WaveKind::Pulse === $wave->kind && null === $restarting => TableReading::pulse($table, $phase, $turns, $bent, ...$this->widths($wave, $at)),
                [] !== $bent => TableReading::bent($table, $phase, $turns, $bent),
                default => TableReading::plain($table, $phase, $turns),
            };
            $left = self::summed($left, $sound, $gain * $l);
            $right = 1 === $voices ? $left : self::summed($right, $sound, $gain * $r);
        }

        return [$left, $right];
    }

    /**
     * A wave by itself, without what acts on it: to bend or to multiply by.
     *
     * @return list<float>
     */
    private function plain(Wave $wave, int $at, Wavetables $tables): array
    {
        return WaveKind::Noise === $wave->kind ? $this->noise($wave, $at, $tables)[0] : $this->periodic($wave->kind->isPeriodic() ? $wave : $wave->with(['kind' => WaveKind::Sine]), [], null, $at, $tables, self::MULTIPLIED_HZ)[0];
    }

    /**
     * By how many turns it is bent at every frame.
     *
     * @param list<Wave> $bending
     *
     * @return list<float> none where it is not
     */
    private function bend(array $bending, float $carrierHz, int $at, Wavetables $tables): array
    {
        $bent = [];
        foreach ($bending as $wave) {
            $depth = $this->depth($wave, $carrierHz) / (2.0 * \M_PI);
            $sound = $this->plain($wave->with(['voices' => 1]), $at, $tables);
            $bent = self::added([] === $bent ? array_fill(0, self::BLOCK, 0.0) : $bent, $sound, $this->gains($wave, $at, $depth), 1.0);
        }

        return $bent;
    }

    /** As far as it may bend, so that what it gives stays below where it would fold back into what is heard. */
    private function depth(Wave $wave, float $carrierHz): float
    {
        $most = (self::BENT_HZ - $carrierHz) / max(1.0, $this->hz($wave));
        $depth = $wave->depth * $this->strength($wave);
        while ($depth > 0.0 && self::sidebands($depth) > $most) {
            $depth = $depth < 0.01 ? 0.0 : 0.9 * $depth;
        }

        return $depth;
    }

    /** How many lie beside a carrier on each side above -80 dB (Bessel functions of the first kind). */
    private static function sidebands(float $depth): float
    {
        return $depth + 4.5 * $depth ** (1.0 / 3.0) + 1.0;
    }

    /** @param list<Wave> $bending */
    private function partialsWhenBent(float $hz, array $bending): int
    {
        for ($h = Wavetables::partials($hz); $h > 1; $h = (int) ($h * 0.8)) {
            $reach = $h * $hz;
            foreach ($bending as $wave) {
                $reach += self::sidebands($h * $this->depth($wave, $hz)) * $this->hz($wave);
            }
            if ($reach <= self::BENT_HZ) {
                return $h;
            }
        }

        return 1;
    }

    private static function frames(float $ms): int
    {
        return (int) round($ms * self::RATE / 1000.0);
    }

    /**
     * Level at every frame: from where it begins, fading where it does.
     *
     * @return list<float>
     */
    private function gains(Wave $wave, int $at, float $level): array
    {
        $since = $at - self::frames($wave->delayMs);
        $fall = $wave->decayMs > 0.0 && !$wave->kind->isStruck() ? exp(-log(1000.0) / max(1, self::frames($wave->decayMs))) : 1.0;
        $gains = self::falling($level * $fall ** max(0, $since), $fall, max(0, -$since));
        for ($i = max(0, -$since); $i < self::BLOCK && $since + $i < self::BEGIN; ++$i) {
            $gains[$i] *= ($since + $i) / (float) self::BEGIN;
        }

        return array_values($gains);
    }

    /** @return list<float> */
    private static function falling(float $level, float $fall, int $silent): array
    {
        $gains = array_fill(0, min(self::BLOCK, $silent), 0.0);
        for ($i = \count($gains); $i < self::BLOCK; ++$i) {
            $gains[] = $level;
            $level *= $fall;
        }

        return $gains;
    }

    /** @return array{float, float} width of a pulse at the start of a block and at its end, as a share of a turn */
    private function widths(Wave $wave, int $at): array
    {
        $width = static fn (int $frame): float => 0.01 * max(1.0, min(99.0, $wave->width + $wave->sway * sin(2.0 * \M_PI * $wave->swayHz * $frame / self::RATE)));

        return [$width($at), $width($at + self::BLOCK)];
    }

    /**
     * @param list<float> $sum
     * @param list<float> $sound
     *
     * @return list<float>
     */
    private static function summed(array $sum, array $sound, float $gain): array
    {
        foreach ($sum as $i => $x) {
            $sum[$i] = $x + $sound[$i] * $gain;
        }

        return $sum;
    }

    /**
     * @param list<float> $sum
     * @param list<float> $sound
     * @param list<float> $gains
     *
     * @return list<float>
     */
    private static function added(array $sum, array $sound, array $gains, float $gain): array
    {
        foreach ($sum as $i => $x) {
            $sum[$i] = $x + $sound[$i] * $gains[$i] * $gain;
        }

        return $sum;
    }

    /**
     * @param list<float> $sound
     * @param list<float> $times
     *
     * @return list<float>
     */
    private static function multiplied(array $sound, array $times, float $share): array
    {
        $rest = 1.0 - $share;
        foreach ($sound as $i => $x) {
            $sound[$i] = $x * ($rest + $share * $times[$i]);
        }

        return $sound;
    }
}
