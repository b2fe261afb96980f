<?php

namespace Pestle\Core\Render;

use Pestle\Core\Kit\FreeEnvelope;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Signal\StateVariable;

/** What is done to the sound of one voice, worked out from its pad's treatment and its strike. */
final readonly class Shaping
{
    private const PERCENT = 0.01;

    public string $signature;
    /** What the sound before its level depends on; empty where it is the sound itself. */
    public string $sounding;

    /**
     * @param float         $pan   where the pad lies, -1 to 1
     * @param list<Swaying> $swing what moves its place
     */
    private function __construct(public ?Motion $motion, public ?Tone $tone, public ?Contour $contour, private float $pan, private array $swing)
    {
        $this->sounding = implode(' ', array_filter([null === $motion ? '' : 'motion '.$motion->signature, null === $tone ? '' : 'tone '.$tone->signature]));
        $this->signature = implode(' ', array_filter([$this->sounding, null === $contour ? '' : 'contour '.$contour->signature, [] === $swing ? '' : 'swing '.$pan, ...array_map(static fn (Swaying $s): string => $s->name(), $swing)]));
    }

    /** @return self|null null where the sound stays as it is */
    public static function of(Treatment $treatment, AtStrike $strike, float $pan): ?self
    {
        $envelopes = $treatment->env->acts() ? [$treatment->env] : [];
        $lfos = static fn (LfoTarget $target): array => [
            ...array_map(static fn (Lfo $lfo): LfoWave => new LfoWave($lfo, $strike->tempo, $strike->frame), $treatment->lfos($target)),
            ...array_map(static fn (FreeEnvelope $e): EnvelopeWave => new EnvelopeWave($e, $strike->held), array_values(array_filter($envelopes, static fn (FreeEnvelope $e): bool => $e->target === $target))),
            ...array_values(array_filter($strike->drifts, static fn (Drift $drift): bool => $drift->target === $target)),
        ];
        $shaping = new self(
            Motion::of($treatment->pitch, $lfos(LfoTarget::Pitch), $strike->slides),
            Tone::of($treatment->filter, $strike, $lfos(LfoTarget::Cutoff)),
            Contour::of($treatment->amp, $lfos(LfoTarget::Level)),
            $pan,
            $lfos(LfoTarget::Pan),
        );

        return '' === $shaping->signature ? null : $shaping;
    }

    public function swings(): bool
    {
        return [] !== $this->swing;
    }

    /**
     * Gains left and right of its place as it moves; null where it stays.
     *
     * @param int $at frame from the strike on
     *
     * @return array{list<float>, list<float>}|null
     */
    public function places(int $at, int $count): ?array
    {
        if ([] === $this->swing) {
            return null;
        }
        $first = (int) floor($at / StateVariable::STEP);
        $steps = intdiv($count, StateVariable::STEP) + 3;
        $pans = array_fill(0, $steps, $this->pan);
        foreach ($this->swing as $lfo) {
            foreach ($lfo->values($first, $steps) as $k => $value) {
                $pans[$k] += self::PERCENT * $value;
            }
        }
        $sides = array_map(static fn (float $pan): array => Panning::gains(max(-1.0, min(1.0, $pan))), $pans);
        $left = $right = [];
        for ($i = 0, $into = $at - $first * StateVariable::STEP; $i < $count; ++$i, ++$into) {
            $k = intdiv($into, StateVariable::STEP);
            $share = ($into % StateVariable::STEP) / (float) StateVariable::STEP;
            $left[] = $sides[$k][0] + ($sides[$k + 1][0] - $sides[$k][0]) * $share;
            $right[] = $sides[$k][1] + ($sides[$k + 1][1] - $sides[$k][1]) * $share;
        }

        return [$left, $right];
    }
}
