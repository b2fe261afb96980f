<?php

namespace Pestle\App\Page;

use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Render\LfoWave;
use Pestle\Core\Render\Tone;
use Pestle\Core\Signal\Bend;
use Pestle\Core\Signal\StateVariable;
use Pestle\Core\Theory\Tempo;

/** Shape, tone and movement of a sound as curves with handles, and in words. A picture is WIDTH by HEIGHT. */
final readonly class TreatmentDrawing
{
    public const WIDTH = 300;
    public const HEIGHT = 92;
    /** Where each way of the envelope may end at most, and how much of the picture it takes; long ones are drawn ever closer. */
    private const WAYS = ['attackMs' => 80.0, 'holdMs' => 50.0, 'decayMs' => 80.0, 'releaseMs' => 62.0];
    private const SUSTAINED = 24.0;
    private const CLOSER = 3.0;
    /** A way that is drawn narrower has no handle to bend it. */
    private const ROOM = 16.0;
    private const FLOOR = 88.0;
    private const TOP = 8.0;
    /** Seconds of movement that are drawn. */
    private const SECONDS = 2.0;
    private const RATE = 44100;

    public function __construct(public Treatment $settings, private Tempo $tempo)
    {
    }

    /** @return array{path: string, handles: list<array<string, mixed>>, said: string} */
    public function shape(): array
    {
        $amp = $this->settings->amp;
        $x = 2.0;
        $most = $amp::parameters()['attackMs']->most;
        $path = \sprintf('M%.1f %.1f', $x, self::FLOOR);
        $handles = [];
        $level = 0.0;
        $sustain = $amp->isFlat() ? 1.0 : $amp->sustain;
        // Short ones are drawn larger, so that the picture is filled.
        $widths = array_map(static fn (string $field, float $width): float => $width * (max(0.0, (float) (is_numeric($amp->settings()[$field]) ? $amp->settings()[$field] : 0.0)) / $most) ** (1.0 / self::CLOSER), array_keys(self::WAYS), self::WAYS);
        $larger = min(3.0, (self::WIDTH - 6.0) / (self::SUSTAINED + array_sum($widths)));
        foreach ([['attackMs', 1.0, $amp->attackBend, ''], ['holdMs', 1.0, 0.0, ''], ['decayMs', $sustain, $amp->decayBend, 'sustain'], ['releaseMs', 0.0, $amp->releaseBend, '']] as [$field, $to, $bend, $y]) {
            if ('releaseMs' === $field) {
                $x += self::SUSTAINED * $larger;
                $path .= \sprintf('L%.1f %.1f', $x, self::y($level));
            }
            $ms = $amp->settings()[$field];
            $width = $larger * self::WAYS[$field] * ((\is_float($ms) ? $ms : 0.0) / $most) ** (1.0 / self::CLOSER);
            for ($k = 1; $k <= 12; ++$k) {
                $path .= \sprintf('L%.1f %.1f', $x + $width * $k / 12, self::y($level + ($to - $level) * Bend::at($k / 12, $bend)));
            }
            $handles[] = ['x' => $x + $width, 'y' => self::y($to), 'label' => $amp::parameters()[$field]->name, 'across' => ['field' => $field, 'from' => $x, 'width' => $larger * self::WAYS[$field], 'least' => 0.0, 'most' => $most, 'power' => self::CLOSER], ...'' === $y ? [] : ['up' => ['field' => $y, 'from' => self::FLOOR, 'height' => self::FLOOR - self::TOP, 'least' => 0.0, 'most' => 1.0]]];
            if ($width > self::ROOM && abs($to - $level) > 0.1 && isset($amp->settings()[$bent = str_replace('Ms', 'Bend', $field)])) {
                [$from, $height] = [self::y($level), self::y($level) - self::y($to)];
                $handles[] = ['x' => $x + $width / 2, 'y' => $from - $height * Bend::at(0.5, $bend), 'label' => $amp::parameters()[$bent]->name, 'small' => true, 'up' => ['field' => $bent, 'from' => $from, 'height' => $height, 'bends' => true]];
            }
            $x += $width;
            $level = $to;
        }
        $ms = static fn (float $value): string => $value < 10.0 ? rtrim(rtrim(number_format($value, 1), '0'), '.').' ms' : ($value < 1000.0 ? round($value).' ms' : number_format($value / 1000.0, 2).' s');
        $said = $amp->isFlat() ? 'as it is' : \sprintf('%s, %s, %s, %d %%', $ms($amp->attackMs), $ms($amp->holdMs), $ms($amp->decayMs), round(100 * $amp->sustain));

        return ['path' => $path, 'handles' => $handles, 'said' => $said.($amp->releaseMs > 0.0 ? ' · release '.$ms($amp->releaseMs) : '')];
    }

    /** @return array{path: string, strong: string, handles: list<array<string, mixed>>, said: string} */
    public function tone(): array
    {
        $filter = $this->settings->filter;
        $off = FilterShape::Off === $filter->shape;
        $strongest = $filter->with(['cutoffHz' => min(20_000.0, max(20.0, $filter->cutoffHz * 2.0 ** ($filter->strengthCents / 1200.0)))]);
        $p = $filter::parameters()['cutoffHz'];
        $handle = [
            'x' => self::x($filter->cutoffHz), 'y' => self::HEIGHT * (0.6 - 0.5 * $filter->resonance), 'label' => 'Cut-off and resonance',
            'across' => ['field' => 'cutoffHz', 'from' => 0.0, 'width' => self::WIDTH, 'least' => $p->least, 'most' => $p->most, 'log' => true],
            'up' => ['field' => 'resonance', 'from' => 0.6 * self::HEIGHT, 'height' => 0.5 * self::HEIGHT, 'least' => 0.0, 'most' => 1.0],
        ];
        $hz = static fn (float $value): string => $value < 1000.0 ? round($value).' Hz' : rtrim(rtrim(number_format($value / 1000.0, 1), '0'), '.').' kHz';
        $moved = array_filter([
            0.0 === $filter->strengthCents ? '' : \sprintf('%+d st with strength', round($filter->strengthCents / 100)),
            0.0 === $filter->envelopeCents ? '' : \sprintf('%+d st by envelope', round($filter->envelopeCents / 100)),
            0.0 === $filter->driveDb ? '' : \sprintf('drive %d dB', round($filter->driveDb)),
        ]);
        $said = $off ? [0.0 === $filter->driveDb ? 'as it is' : ''] : [\sprintf('%s %d, %s', $filter->shape->value, $filter->steep ? 24 : 12, $hz($filter->cutoffHz))];

        return [
            'path' => self::response($filter),
            'strong' => $off || 0.0 === $filter->strengthCents ? '' : self::response($strongest),
            'handles' => $off ? [] : [$handle],
            'said' => implode(', ', array_filter([...$said, ...$moved])),
        ];
    }

    /** @return array{paths: list<array{string, string}>, said: string} curves with their colour */
    public function movement(): array
    {
        $paths = [];
        $said = [];
        foreach ([[$this->settings->lfo1, 'plum'], [$this->settings->lfo2, 'basil']] as [$lfo, $colour]) {
            if ($lfo->acts()) {
                $paths[] = [$this->wave($lfo), $colour];
                $rate = $lfo->ticks > 0 ? self::inTime($lfo->ticks) : number_format($lfo->hz, $lfo->hz < 10 ? 1 : 0).' Hz';
                $said[] = \sprintf('%s %s %s at %s', $lfo->target->value, round($lfo->depth), LfoTarget::Pitch === $lfo->target || LfoTarget::Cutoff === $lfo->target ? 'ct' : '%', $rate);
            }
        }
        $pitch = $this->settings->pitch;
        if (0.0 !== $pitch->cents) {
            $path = '';
            for ($k = 0; $k <= 40; ++$k) {
                $way = $k / 40;
                $path .= \sprintf('%s%.1f %.1f', '' === $path ? 'M' : 'L', self::WIDTH * $way * 0.5, self::HEIGHT / 2 - ($pitch->cents > 0 ? 1 : -1) * 0.42 * self::HEIGHT * (1.0 - Bend::at($way, $pitch->bend)));
            }
            $paths[] = [$path.\sprintf('L%d %.1f', self::WIDTH, self::HEIGHT / 2), 'turmeric'];
            $said[] = \sprintf('pitch from %+d st in %d ms', round($pitch->cents / 100), round($pitch->decayMs));
        }

        return ['paths' => $paths, 'said' => [] === $said ? 'none' : implode(' · ', $said)];
    }

    /** Lengths an LFO may have in time, by their ticks. */
    public static function inTime(int $ticks): string
    {
        return self::lengths()[$ticks] ?? $ticks.' ticks';
    }

    /** @return array<int, string> */
    public static function lengths(): array
    {
        return [0 => 'free', 15_360 => '4 bars', 7680 => '2 bars', 3840 => '1 bar', 1920 => '1/2', 960 => '1/4', 640 => '1/4 triplet', 720 => '1/8 dotted', 480 => '1/8', 320 => '1/8 triplet', 240 => '1/16', 160 => '1/16 triplet', 120 => '1/32'];
    }

    private function wave(Lfo $lfo): string
    {
        $wave = new LfoWave($lfo, $this->tempo);
        $path = '';
        for ($x = 0; $x <= self::WIDTH; $x += 2) {
            $step = (int) (self::SECONDS * self::RATE / StateVariable::STEP * $x / self::WIDTH);
            $path .= \sprintf('%s%d %.1f', '' === $path ? 'M' : 'L', $x, self::HEIGHT / 2 - 0.42 * self::HEIGHT * $wave->values($step, 1)[0] / $lfo->depth);
        }

        return $path;
    }

    /** From 20 Hz to 20 kHz, -40 to 24 dB. */
    private static function response(Filter $filter): string
    {
        $path = '';
        for ($x = 0; $x <= self::WIDTH; $x += 3) {
            $db = 20.0 * log10(max(1e-5, Tone::response($filter, min(20_000.0, 20.0 * 1000.0 ** ($x / self::WIDTH)))));
            $path .= \sprintf('%s%d %.1f', '' === $path ? 'M' : 'L', $x, max(2.0, min(self::HEIGHT, 0.42 * self::HEIGHT * (1.0 - $db / 28.0))));
        }

        return $path;
    }

    private static function x(float $hz): float
    {
        return self::WIDTH * log10($hz / 20.0) / 3.0;
    }

    private static function y(float $level): float
    {
        return self::FLOOR - (self::FLOOR - self::TOP) * $level;
    }
}
