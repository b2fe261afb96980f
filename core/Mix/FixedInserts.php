<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;

/** Inserts whose settings stay as they are. */
final readonly class FixedInserts implements Inserts
{
    /** @var list<Insert> */
    private array $inserts;
    /** @var list<string|null> */
    private array $keys;
    /** @var list<bool> */
    private array $act;

    /** @param list<InsertSettings> $settings */
    public function __construct(array $settings, Timing $timing)
    {
        $inserts = $keys = $act = [];
        foreach ($settings as $one) {
            $inserts[] = self::one($one, $timing);
            $keys[] = $one->key();
            $act[] = $one->acts();
        }
        [$this->inserts, $this->keys, $this->act] = [$inserts, $keys, $act];
    }

    /** One insert, with its share and its wait around it. */
    public static function one(InsertSettings $settings, Timing $timing): Insert
    {
        $insert = $settings->insert($timing);
        $late = $settings->lateFrames($timing->sampleRate);
        $insert = $settings->share() < 1.0 ? new Blended($insert, $settings->share()) : $insert;

        return $late > 0 ? new Late($insert, $late) : $insert;
    }

    public function rest(): array
    {
        return array_map(static fn (Insert $insert): InsertState => $insert->rest(), $this->inserts);
    }

    public function process(?StereoBlock $in, int $frames, array $keys, array $states, int $at): Processed
    {
        if (!\in_array(true, $this->act, true)) {
            return new Processed($in, $states, []);
        }
        if (null === $in && $this->isAtRest($states) && $this->areKeysSilent($keys)) {
            return new Processed(null, $states, $this->resting($frames));
        }
        $sound = $in ?? StereoBlock::silence($frames);
        $curves = [];
        foreach ($this->inserts as $i => $insert) {
            if (!$this->act[$i]) {
                continue;
            }
            $next = $this->inserts[$i + 1] ?? null;
            if ($insert instanceof Equalizer && $next instanceof Compressor && $this->act[$i + 1] && null === $this->keys[$i + 1]) {
                [$sound, $states[$i], $states[$i + 1], $curves[$i + 1]] = $insert->into($next, $sound, $states[$i], $states[$i + 1]);
            } elseif (!isset($curves[$i])) {
                $key = $this->keys[$i];
                [$sound, $states[$i], $curve] = $insert->process($sound, null === $key ? null : $keys[$key] ?? StereoBlock::silence($frames), $states[$i], $at);
                if (null !== $curve) {
                    $curves[$i] = $curve;
                }
            }
        }

        return new Processed($sound, array_values($states), $curves);
    }

    public function part(StereoBlock $in, array $states, array $gains, int $at): array
    {
        foreach ($this->inserts as $i => $insert) {
            if (!$this->act[$i]) {
                continue;
            }
            if (isset($gains[$i])) {
                [$in, $states[$i]] = $insert instanceof Late ? $insert->later($in, $states[$i]) : [$in, $states[$i]];
                $in = Gain::curve($in, $gains[$i]);
            } else {
                [$in, $states[$i]] = $insert->process($in, null, $states[$i], $at);
            }
        }

        return [$in, array_values($states)];
    }

    /** @return array{list<Biquad>, Compressor, int}|null filters, compressor and the place of that: what a recording goes through on its way into a sum, where that is all there is */
    public function straight(): ?array
    {
        $acting = array_filter($this->inserts, fn (int $i): bool => $this->act[$i], \ARRAY_FILTER_USE_KEY);
        $place = (int) array_key_last($acting);
        $compressor = array_pop($acting);
        $acting = array_values($acting);
        $sections = ($acting[0] ?? null) instanceof Equalizer ? $acting[0]->sections : [];

        return $compressor instanceof Compressor && [] === array_filter($this->keys) && \count($acting) === (int) ([] !== $sections) && \count($sections) <= 2 ? [array_values($sections), $compressor, $place] : null;
    }

    /**
     * The state of a straight() way out of that of all inserts: sections, then the compressor.
     *
     * @param list<InsertState> $states
     *
     * @return list<float>
     */
    public function straightState(array $states): array
    {
        $own = [];
        foreach ($states as $i => $state) {
            if ($this->act[$i]) {
                $insert = $this->inserts[$i];
                array_push($own, ...$insert instanceof Equalizer ? $insert->stateOf($insert->sections, $state) : $state->numbers);
            }
        }

        return $own;
    }

    /**
     * @param list<float> $own as straightState()
     *
     * @return list<InsertState> of all inserts
     */
    public function withStraightState(array $own): array
    {
        $states = [];
        foreach ($this->inserts as $i => $insert) {
            $states[$i] = $insert->rest();
            if ($this->act[$i]) {
                $count = $insert instanceof Equalizer ? \count($insert->stateOf($insert->sections, $states[$i])) : \count($states[$i]->numbers);
                $taken = \array_slice($own, 0, $count);
                $own = \array_slice($own, $count);
                $states[$i] = $insert instanceof Equalizer ? $insert->withState($states[$i], $insert->sections, $taken) : new InsertState($taken);
            }
        }

        return array_values($states);
    }

    /** @param list<InsertState> $states */
    private function isAtRest(array $states): bool
    {
        foreach ($this->inserts as $i => $insert) {
            if (!$states[$i]->equals($insert->rest())) {
                return false;
            }
        }

        return true;
    }

    /** @param array<string, StereoBlock> $keys */
    private function areKeysSilent(array $keys): bool
    {
        foreach ($this->keys as $i => $key) {
            if (null !== $key && $this->act[$i] && isset($keys[$key])) {
                return false;
            }
        }

        return true;
    }

    /** @return array<int, GainCurve> */
    private function resting(int $frames): array
    {
        $curves = [];
        foreach ($this->inserts as $i => $insert) {
            if ($this->act[$i] && $insert instanceof Compressor) {
                $curves[$i] = $insert->restingCurve($frames);
            }
        }

        return $curves;
    }
}
