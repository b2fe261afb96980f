<?php

namespace Pestle\App\Page;

use Pestle\Core\Mix\ChorusSettings;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\DelaySettings;
use Pestle\Core\Mix\DuckerSettings;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\FilterSettings;
use Pestle\Core\Mix\Formants;
use Pestle\Core\Mix\GateSettings;
use Pestle\Core\Mix\HarmonicsSettings;
use Pestle\Core\Mix\HarmonicsStyle;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\LimiterSettings;
use Pestle\Core\Mix\OldConverterSettings;
use Pestle\Core\Mix\PhaserSettings;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Core\Mix\SaturationSettings;
use Pestle\Core\Mix\StereoSettings;
use Pestle\Core\Mix\SweptShape;
use Pestle\Core\Mix\TransientsSettings;
use Pestle\Core\Mix\TremoloSettings;
use Pestle\Core\Mix\TremoloStyle;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;

/** What an insert does, drawn: a curve over level, frequency or time, as a path from the left to the right of a box. */
final readonly class InsertPicture
{
    public function __construct(private InsertSettings $insert, private Tempo $tempo, private SoundRules $rules = SoundRules::NEWEST)
    {
    }

    /** What lies from left to right. */
    public function axis(): string
    {
        return match (true) {
            $this->insert instanceof CompressorSettings, $this->insert instanceof GateSettings, $this->insert instanceof LimiterSettings => 'How loud comes out what goes in, from −60 to 0 dB',
            $this->insert instanceof SaturationSettings, $this->insert instanceof OldConverterSettings => 'What comes out for what goes in, from −1 to 1',
            $this->insert instanceof HarmonicsSettings => 'Where overtones are added, from 20 Hz to 20 kHz',
            $this->insert instanceof EqualizerSettings, $this->insert instanceof FilterSettings => 'What is louder and softer, from 20 Hz to 20 kHz',
            $this->insert instanceof DuckerSettings => 'Its level while another sound is loud for a tenth of a second',
            $this->insert instanceof TransientsSettings => 'A stroke before and after',
            $this->insert instanceof DelaySettings => 'Echoes over two seconds, left up and right down',
            $this->insert instanceof ReverbSettings => \sprintf('Its first walls, its highs and its lows over %s s, down to −60 dB', round(max(1.0, 1.2 * $this->insert->decay), 1)),
            $this->insert instanceof StereoSettings => 'How far it reaches to both sides',
            default => 'How it moves over two seconds',
        };
    }

    public function path(int $width, int $height): string
    {
        $i = $this->insert;

        return match (true) {
            $i instanceof EqualizerSettings => Drawing::eqPath($i, $width, $height),
            $i instanceof CompressorSettings => Drawing::transferPath($i, $width, $height),
            $i instanceof GateSettings => $this->line($width, $height, static fn (float $x): float => 60.0 * $x - 60.0 >= $i->thresholdDb ? $x : max(0.0, $x - $i->rangeDb / 60.0)),
            $i instanceof LimiterSettings => $this->line($width, $height, static fn (float $x): float => min($x + $i->gainDb / 60.0, 1.0 + $i->ceilingDb / 60.0)),
            $i instanceof DuckerSettings => $this->line($width, $height, static fn (float $x): float => self::dip($i, 500.0 * $x)),
            $i instanceof TransientsSettings => $this->line($width, $height, static fn (float $x): float => min(1.0, 0.6 * exp(-4.0 * $x) * (1.0 + 0.008 * $i->attack * exp(-25.0 * $x) + 0.01 * $i->sustain * min(1.0, 2.0 * $x)))),
            $i instanceof SaturationSettings => $this->line($width, $height, static fn (float $x): float => 0.5 + 0.5 * self::driven($i, 2.0 * $x - 1.0)),
            $i instanceof HarmonicsSettings => $this->line($width, $height, static fn (float $x): float => self::added($i, 20.0 * 1000.0 ** $x)),
            $i instanceof OldConverterSettings => $this->line($width, $height, static fn (float $x): float => round($x * 2.0 ** min(6.0, 0.5 * $i->bits)) / 2.0 ** min(6.0, 0.5 * $i->bits)),
            $i instanceof FilterSettings => $this->line($width, $height, fn (float $x): float => 0.55 + $this->filterDb($i, 20.0 * 1000.0 ** $x) / 60.0),
            $i instanceof TremoloSettings && TremoloStyle::Ring === $i->style => $this->line($width, $height, static fn (float $x): float => 0.5 + 0.005 * $i->depth * sin(60.0 * \M_PI * $x)),
            $i instanceof TremoloSettings, $i instanceof ChorusSettings => $this->line($width, $height, fn (float $x): float => 0.5 + 0.0045 * $i->depth * sin(2.0 * \M_PI * 2.0 * $x * $this->hz($i))),
            $i instanceof PhaserSettings => $this->line($width, $height, fn (float $x): float => 0.5 + 0.075 * $i->octaves * sin(2.0 * \M_PI * 2.0 * $x * $this->hz($i))),
            $i instanceof DelaySettings => $this->echoes($i, $width, $height),
            $i instanceof ReverbSettings => $this->ringing($i, $width, $height),
            $i instanceof StereoSettings => self::wedge($i, $width, $height),
            default => '',
        };
    }

    /** Of a reverb how loud what rings is by frequency, from 20 Hz to 20 kHz; empty for others. */
    public function response(int $width, int $height): string
    {
        $reverb = $this->insert;
        if (!$reverb instanceof ReverbSettings) {
            return '';
        }
        $cut = Biquad::highPass($reverb->lowCutHz, 0.5, 44100.0);

        return $this->line($width, $height, static function (float $x) use ($reverb, $cut): float {
            $hz = 20.0 * 1000.0 ** $x;

            return 0.85 + (10.0 * log10($reverb->decayAt($hz) / $reverb->decay) + $cut->responseDb($hz, 44100.0)) / 40.0;
        });
    }

    /** @param callable(float): float $at from 0 (low) to 1, for 0 to 1 */
    private function line(int $width, int $height, callable $at): string
    {
        $path = '';
        for ($x = 0; $x <= $width; $x += 2) {
            $path .= \sprintf('%s%d %.1f', '' === $path ? 'M' : 'L', $x, $height * (1.0 - max(0.02, min(0.98, $at($x / $width)))));
        }

        return $path;
    }

    private static function dip(DuckerSettings $ducker, float $ms): float
    {
        $since = $ms - 60.0;
        $down = $ducker->depthDb * match (true) {
            $since < 0.0 => 0.0,
            $since < 100.0 + $ducker->holdMs => 1.0 - exp(-$since / max(0.1, $ducker->attackMs)),
            default => exp(-($since - 100.0 - $ducker->holdMs) / $ducker->releaseMs),
        };

        return 0.92 - min(0.85, $down / 30.0);
    }

    private static function driven(SaturationSettings $saturation, float $x): float
    {
        $drive = 10.0 ** ($saturation->driveDb / 20.0);

        return 0.01 * $saturation->mix * $saturation->curve->at($drive * $x) / max(1e-9, abs($saturation->curve->at($drive)), 0.7) + (1.0 - 0.01 * $saturation->mix) * $x;
    }

    /** Where overtones are added, between a half and the top. */
    private static function added(HarmonicsSettings $harmonics, float $hz): float
    {
        $octaves = log($hz / $harmonics->hz, 2.0);
        $there = HarmonicsStyle::Bright === $harmonics->style ? 1.0 / (1.0 + 4.0 ** -(2.0 * $octaves)) : 1.0 / (1.0 + 4.0 ** -(2.0 * $octaves - 0.5)) / (1.0 + 4.0 ** (2.0 * $octaves - 5.2));

        return 0.3 + 0.6 * $there * (40.0 + $harmonics->addedDb) / 46.0;
    }

    private function filterDb(FilterSettings $filter, float $hz): float
    {
        if (SweptShape::Formant === $filter->shape) {
            return $this->mouthDb($filter, $hz);
        }
        if (SweptShape::Comb === $filter->shape) {
            $back = 0.98 * sqrt($filter->resonance);

            return 10.0 * log10((1.0 - $back * $back) / (1.0 + $back * $back - 2.0 * $back * cos(2.0 * \M_PI * $hz / $filter->cutoffHz)));
        }
        $q = 0.7071 * 2.0 ** (5.0 * $filter->resonance);
        $w = $hz / $filter->cutoffHz;
        $below = (1.0 - $w * $w) ** 2 + ($w / $q) ** 2;
        $above = match ($filter->shape) {
            SweptShape::High => $w ** 4,
            SweptShape::Band => ($w / $q) ** 2,
            SweptShape::Notch => (1.0 - $w * $w) ** 2,
            default => 1.0,
        };

        return 10.0 * log10(max(1e-9, $above / $below));
    }

    /** Its three resonances, the loudest of them at each frequency, lifted as what is heard is. */
    private function mouthDb(FilterSettings $filter, float $hz): float
    {
        [$formants, $gains] = Formants::of($filter->vowel);
        $q = Formants::q($filter->resonance);
        $power = 0.0;
        foreach ($formants as $k => $f) {
            $w = $hz / $f;
            $power = max($power, $gains[$k] ** 2 * ($w / $q) ** 2 / ((1.0 - $w * $w) ** 2 + ($w / $q) ** 2));
        }

        $lift = SoundRules::First === $this->rules ? 1.0 : Formants::makeup($gains, $q);

        return 10.0 * log10(max(1e-9, $lift * $lift * $power));
    }

    private function hz(TremoloSettings|ChorusSettings|PhaserSettings $insert): float
    {
        return $insert->time->isFree() ? $insert->rateHz : 1.0 / $insert->time->seconds($insert->sixteenths, $this->tempo);
    }

    private function echoes(DelaySettings $delay, int $width, int $height): string
    {
        $path = \sprintf('M0 %.1fH%d', $height / 2, $width);
        $apart = max(0.002, $delay->apart($this->tempo));
        for ($k = 1; $k * $apart < 2.0 && $k < 200; ++$k) {
            $level = 0.48 * $height * (0.01 * $delay->feedback) ** ($k - 1);
            if ($level < 1.0) {
                break;
            }
            [$up, $down] = $delay->sides ? [1 === $k % 2, 0 === $k % 2] : [true, true];
            $path .= \sprintf('M%.1f %.1fV%.1f', $width * $k * $apart / 2.0, $height / 2 - ($up ? $level : 0.0), $height / 2 + ($down ? $level : 0.0));
        }

        return $path;
    }

    private function ringing(ReverbSettings $reverb, int $width, int $height): string
    {
        $seconds = max(1.0, 1.2 * $reverb->decay);
        $before = $reverb->preDelayMs / 1000.0;
        $path = '';
        foreach ([7.1, 11.9, 19.7, 27.3, 35.9, 45.1] as $k => $ms) {
            $x = $width * ($before + $ms * $reverb->size / 1000.0) / $seconds;
            $path .= \sprintf('M%.1f %dV%.1f', $x, $height, $height * (1.0 - 0.009 * $reverb->early * (1.0 - 0.1 * $k)));
        }
        foreach ([1.0, 0.01 * $reverb->highs] as $share) {
            $from = $width * ($before + 0.03 * $reverb->size) / $seconds;
            $path .= \sprintf('M%.1f %.1fL%.1f %d', $from, 0.12 * $height, $from + $width * $reverb->decay * $share / $seconds, $height);
        }

        return $path;
    }

    private static function wedge(StereoSettings $stereo, int $width, int $height): string
    {
        $reach = 0.24 * $width * $stereo->width / 100.0;
        $middle = $width / 2 + 0.2 * $width * $stereo->balance;

        return \sprintf('M%.1f %dL%.1f 3H%.1fZM%.1f %dV3', $middle, $height, $middle - $reach, $middle + $reach, $middle, $height);
    }
}
