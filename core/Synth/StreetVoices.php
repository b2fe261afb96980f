<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;

/** What is heard on Lantern Street beside what is struck and blown: steam, rain, the tram. Wide, and some seconds long. */
final readonly class StreetVoices
{
    private Tone $tone;

    public function __construct(int $sampleRate)
    {
        $this->tone = new Tone($sampleRate);
    }

    /** Steam that rises: the hiss opens from low to high, fastest at its end, where it breaks off. */
    public function steam(float $seconds): StereoBlock
    {
        $bands = [[300.0, 900.0, 0.5, 1.2], [800.0, 2200.0, 0.6, 2.0], [2000.0, 5200.0, 0.55, 3.2], [5000.0, 11000.0, 0.5, 4.8]];
        $side = function (int $seed) use ($seconds, $bands): array {
            $parts = [];
            foreach ($bands as $i => [$from, $to, $level, $late]) {
                $parts[] = [Tone::shaped($this->tone->band($seconds, $from, $to, $seed + $i), $this->along($seconds, static fn (float $t): float => $t ** $late * min(1.0, (1.0 - $t) * $seconds / 0.03))), $level];
            }

            return Tone::mixed($parts);
        };

        return $this->tone->finished($side(40), $side(60), 0.5);
    }

    /** Rain on a tin roof: an even hiss that comes and goes a little, and single drops that ring. */
    public function rain(float $seconds): StereoBlock
    {
        $sides = [];
        foreach ([70, 80] as $n => $seed) {
            $swell = $this->along($seconds, static fn (float $t): float => 0.8 + 0.2 * sin(2 * \M_PI * ($t * $seconds * 0.21 + 0.3 * $n)));
            $sides[] = Tone::mixed([[Tone::shaped($this->tone->band($seconds, 900, 8500, $seed), $swell), 0.16], [$this->tone->band($seconds, 250, 900, $seed + 1), 0.1]]);
        }
        // Drops by a seed of their own: some twenty a second, each nearer one ear.
        $chance = new \Random\Randomizer(new \Random\Engine\Xoshiro256StarStar(9));
        for ($at = 0.02; $at < $seconds - 0.1; $at += 0.01 + 0.08 * $chance->getInt(0, 100) / 100) {
            $drop = Tone::shaped($this->tone->sine(0.05, 1100.0 * 2.0 ** ($chance->getInt(0, 180) / 100)), $this->tone->envelope(0.05, 0.0006, 0.035));
            $place = $chance->getInt(5, 95) / 100;
            $level = 0.05 + 0.25 * ($chance->getInt(0, 100) / 100) ** 3;
            foreach ($drop as $i => $x) {
                $sides[0][$this->tone->frames($at) + $i] += $level * sqrt(1.0 - $place) * $x;
                $sides[1][$this->tone->frames($at) + $i] += $level * sqrt($place) * $x;
            }
        }

        return $this->tone->finished(array_values($sides[0]), array_values($sides[1]), 0.5);
    }

    /** The tram passes from left to right: wheels rumble, the wire sings and sinks by a tone as it goes. */
    public function tram(float $seconds): StereoBlock
    {
        $near = $this->along($seconds, static fn (float $t): float => exp(-((($t - 0.5) / 0.2) ** 2)));
        $wheels = Tone::shaped($this->tone->band($seconds, 110, 520, 90), $near);
        $wire = [];
        $phase = 0.0;
        for ($i = 0, $n = $this->tone->frames($seconds); $i < $n; ++$i) {
            $phase += 440.0 * 2.0 ** (-tanh(($i / $n - 0.5) * 9.0) / 12.0) / $this->tone->sampleRate;
            $wire[] = sin(2 * \M_PI * $phase) + 0.4 * sin(4 * \M_PI * $phase) + 0.2 * sin(6 * \M_PI * $phase);
        }
        $both = Tone::mixed([[$wheels, 0.8], [Tone::shaped($wire, $near), 0.12], [Tone::shaped($this->tone->band($seconds, 1500, 6000, 91), $near), 0.12]]);

        return $this->tone->finished(Tone::shaped($both, $this->along($seconds, static fn (float $t): float => cos($t * \M_PI / 2))), Tone::shaped($both, $this->along($seconds, static fn (float $t): float => sin($t * \M_PI / 2))), 0.6);
    }

    /**
     * @param \Closure(float): float $shape of its place, 0 to 1
     *
     * @return list<float>
     */
    private function along(float $seconds, \Closure $shape): array
    {
        $n = $this->tone->frames($seconds);

        return array_map(static fn (int $i): float => $shape($i / $n), range(0, $n - 1));
    }
}
