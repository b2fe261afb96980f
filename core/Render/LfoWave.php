<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoShape;
use Pestle\Core\Signal\StateVariable;
use Pestle\Core\Theory\Tempo;

/** An LFO as it is over a voice: -1 to 1, at every STEP frames. Where it jumps it takes a moment, so that nothing clicks. */
final readonly class LfoWave implements Swaying
{
    private const JUMP_SECONDS = 0.002;
    private const BEGIN_SECONDS = 0.01;

    private string $signature;
    /** Frames of one round. */
    private float $round;
    private int $delay;
    /** Frames over which it comes in. */
    private float $in;
    /** Rounds that have passed at the strike. */
    private float $passed;

    /** @param int $frame of the strike, counted from the start of what plays: the same for all notes, it has run since then */
    public function __construct(public Lfo $lfo, Tempo $tempo, int $frame = 0)
    {
        $this->round = max(2.0 * StateVariable::STEP, Beat::SAMPLE_RATE * ($lfo->ticks > 0 ? $tempo->seconds($lfo->ticks) : 1.0 / $lfo->hz));
        $this->delay = (int) round($lfo->delayMs * Beat::SAMPLE_RATE / 1000.0);
        $this->in = max(self::BEGIN_SECONDS, $lfo->fadeMs / 1000.0) * Beat::SAMPLE_RATE;
        $this->passed = $lfo->common ? $frame / $this->round : 0.0;
        $this->signature = implode(' ', [$lfo->target->value, $lfo->shape->value, $this->round, $this->delay, $lfo->depth, ...$lfo->fadeMs > 0.0 ? ['in', $this->in] : [], ...$lfo->common ? ['from', LfoShape::Steps === $lfo->shape ? $this->passed : $this->passed - floor($this->passed)] : []]);
    }

    public function name(): string
    {
        return $this->signature;
    }

    public function highest(): float
    {
        return $this->lfo->depth;
    }

    /** Its values times its depth. */
    public function values(int $step, int $count): array
    {
        $values = [];
        for ($k = $step; $k < $step + $count; ++$k) {
            $since = (float) ($k * StateVariable::STEP - $this->delay);
            $in = $since <= 0.0 ? 0.0 : min(1.0, $since / $this->in);
            $values[] = 0.0 === $in ? 0.0 : $in * $this->lfo->depth * $this->at($this->passed + ($this->lfo->common ? $since + $this->delay : $since) / $this->round);
        }

        return $values;
    }

    private function at(float $rounds): float
    {
        $phase = $rounds - floor($rounds);
        $shape = $this->lfo->shape;

        return match ($shape) {
            LfoShape::Sine => sin(2.0 * \M_PI * $phase),
            LfoShape::Triangle => $phase < 0.25 ? 4.0 * $phase : ($phase < 0.75 ? 2.0 - 4.0 * $phase : 4.0 * $phase - 4.0),
            LfoShape::Rising => $this->jumping($phase, 1.0, 2.0 * $phase - 1.0),
            LfoShape::Falling => $this->jumping($phase, -1.0, 1.0 - 2.0 * $phase),
            LfoShape::Square => $phase < 0.5 ? $this->jumping($phase, -1.0, 1.0) : $this->jumping($phase - 0.5, 1.0, -1.0),
            LfoShape::Steps => $this->jumping($phase, self::step((int) floor($rounds) - 1), self::step((int) floor($rounds))),
        };
    }

    /** @param float $since the jump, in rounds */
    private function jumping(float $since, float $before, float $after): float
    {
        $takes = min(0.125, self::JUMP_SECONDS * Beat::SAMPLE_RATE / $this->round);

        return $since >= $takes ? $after : $before + ($after - $before) * $since / $takes;
    }

    /** Steps by chance, the same every time. */
    private static function step(int $round): float
    {
        return $round < 0 ? 0.0 : hexdec(hash('crc32b', 'step '.$round)) / 0x7FFFFFFF - 1.0;
    }
}
