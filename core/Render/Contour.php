<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Envelope;
use Pestle\Core\Signal\Bend;
use Pestle\Core\Signal\StateVariable;

/** How loud a voice is, frame by frame from the strike on, while it is held: its envelope, and LFOs that move its level. */
final class Contour
{
    /** Frames that are worked out at once. */
    private const CHUNK = 4096;
    private const KEPT = 16;
    private const MOST_SHARED = 64;
    /** @var array<string, self> */
    private static array $shared = [];
    private const PERCENT = 0.01;

    public readonly string $signature;
    /** Frame from which on nothing is heard; null when it goes on. */
    public readonly ?int $ends;
    /** @var non-empty-list<array{int, float, float, float}> length, start, end and bend of each stage */
    private readonly array $stages;
    private readonly float $sustain;
    /** @var array<int, non-empty-list<float>> chunks, by their number */
    private array $chunks = [];

    /** @param list<Swaying> $lfos */
    private function __construct(Envelope $envelope, private readonly array $lfos)
    {
        $frames = array_map(self::frames(...), [$envelope->attackMs, $envelope->holdMs, $envelope->decayMs]);
        $delay = self::frames($envelope->delayMs);
        $this->stages = [...$delay > 0 ? [[$delay, 0.0, 0.0, 0.0]] : [], [$frames[0], 0.0, 1.0, $envelope->attackBend], [$frames[1], 1.0, 1.0, 0.0], [$frames[2], 1.0, $envelope->sustain, $envelope->decayBend]];
        $this->sustain = 0 === $frames[1] && 0 === $frames[2] ? 1.0 : $envelope->sustain;
        $this->ends = 0.0 === $this->sustain ? $delay + array_sum($frames) : null;
        $this->signature = implode(' ', [...$delay > 0 ? ['after', $delay] : [], ...$frames, $this->sustain, $envelope->attackBend, $envelope->decayBend, ...array_map(static fn (Swaying $s): string => $s->name(), $lfos)]);
    }

    /**
     * @param list<Swaying> $lfos
     *
     * @return self|null null where it stays at full level
     */
    public static function of(Envelope $envelope, array $lfos): ?self
    {
        if ($envelope->isFlat() && [] === $lfos) {
            return null;
        }
        $contour = new self($envelope, $lfos);
        // Equal ones share what is worked out of them.
        if (!isset(self::$shared[$contour->signature])) {
            self::$shared = \count(self::$shared) < self::MOST_SHARED ? self::$shared : [];
            self::$shared[$contour->signature] = $contour;
        }

        return self::$shared[$contour->signature];
    }

    public static function frames(float $ms): int
    {
        return (int) round($ms * Beat::SAMPLE_RATE / 1000.0);
    }

    /**
     * @param int $at frame from the strike on; before it, it is as at the strike
     *
     * @return list<float> one a frame
     */
    public function gains(int $at, int $count): array
    {
        $gains = [];
        for ($end = $at + $count; $at < $end;) {
            $chunk = intdiv(max(0, $at), self::CHUNK);
            $within = max(0, $at) - $chunk * self::CHUNK;
            $n = $at < 0 ? min(-$at, $end - $at) : min(self::CHUNK - $within, $end - $at);
            $values = $this->chunk($chunk);
            $part = $at < 0 ? array_fill(0, $n, $values[0]) : (self::CHUNK === $n ? $values : \array_slice($values, $within, $n));
            $gains = [] === $gains ? $part : array_merge($gains, $part);
            $at += $n;
        }

        return $gains;
    }

    /** @return non-empty-list<float> */
    private function chunk(int $chunk): array
    {
        if (isset($this->chunks[$chunk])) {
            return $this->chunks[$chunk];
        }
        if (\count($this->chunks) >= self::KEPT) {
            $this->chunks = [];
        }
        $first = $chunk * self::CHUNK;
        $gains = [];
        $start = 0;
        foreach ($this->stages as [$frames, $from, $to, $bend]) {
            $at = max($first, $start);
            $n = min($first + self::CHUNK, $start + $frames) - $at;
            if ($n > 0) {
                array_push($gains, ...Bend::values($from, $to, $frames, $bend, $at - $start, $n));
            }
            $start += $frames;
        }
        $gains = array_pad($gains, self::CHUNK, $this->sustain) ?: [0.0];
        foreach ($this->lfos as $lfo) {
            $gains = self::moved($gains, $lfo->values(intdiv($first, StateVariable::STEP), intdiv(self::CHUNK, StateVariable::STEP) + 1));
        }

        return $this->chunks[$chunk] = $gains;
    }

    /**
     * @param non-empty-list<float> $gains
     * @param list<float>           $percent at every STEP frames, and one for the end
     *
     * @return non-empty-list<float>
     */
    private static function moved(array $gains, array $percent): array
    {
        foreach ($gains as $i => $gain) {
            $k = intdiv($i, StateVariable::STEP);
            $share = ($i % StateVariable::STEP) / (float) StateVariable::STEP;
            $gains[$i] = $gain * (1.0 + self::PERCENT * ($percent[$k] + ($percent[$k + 1] - $percent[$k]) * $share));
        }

        return array_values($gains);
    }
}
