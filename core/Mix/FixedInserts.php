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
    public function __construct(array $settings, float $sampleRate)
    {
        $inserts = $keys = $act = [];
        foreach ($settings as $one) {
            $inserts[] = match (true) {
                $one instanceof EqualizerSettings => Equalizer::of($one->bands, $sampleRate),
                $one instanceof CompressorSettings => new Compressor($one, $sampleRate),
                default => throw new \LogicException('Nothing makes sound of '.$one->kind().'.'),
            };
            $keys[] = $one->key();
            $act[] = $one->acts();
        }
        [$this->inserts, $this->keys, $this->act] = [$inserts, $keys, $act];
    }

    public function rest(): array
    {
        return array_merge(...array_map(static fn (Insert $insert): array => $insert->rest(), $this->inserts));
    }

    public function process(?StereoBlock $in, int $frames, array $keys, array $state): Processed
    {
        if (!\in_array(true, $this->act, true)) {
            return new Processed($in, $state, []);
        }
        if (null === $in && $state === $this->rest() && $this->areKeysSilent($keys)) {
            return new Processed(null, $state, $this->resting($frames));
        }
        $sound = $in ?? StereoBlock::silence($frames);
        $states = $this->split($state);
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
                [$sound, $states[$i], $curve] = $insert->process($sound, null === $key ? null : $keys[$key] ?? StereoBlock::silence($frames), $states[$i]);
                if (null !== $curve) {
                    $curves[$i] = $curve;
                }
            }
        }

        return new Processed($sound, array_merge(...$states), $curves);
    }

    public function part(StereoBlock $in, array $state, array $gains): array
    {
        $states = $this->split($state);
        foreach ($this->inserts as $i => $insert) {
            if (!$this->act[$i]) {
                continue;
            }
            if (isset($gains[$i])) {
                $in = Gain::curve($in, $gains[$i]);
            } else {
                [$in, $states[$i]] = $insert->process($in, null, $states[$i]);
            }
        }

        return [$in, array_merge(...$states)];
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
     * @param list<float> $state
     *
     * @return list<float>
     */
    public function straightState(array $state): array
    {
        $own = [];
        foreach ($this->split($state) as $i => $values) {
            if ($this->act[$i]) {
                $insert = $this->inserts[$i];
                array_push($own, ...$insert instanceof Equalizer ? $insert->stateOf($insert->sections, $values) : $values);
            }
        }

        return $own;
    }

    /**
     * @param list<float> $own as straightState()
     *
     * @return list<float> of all inserts
     */
    public function withStraightState(array $own): array
    {
        $states = [];
        foreach ($this->inserts as $i => $insert) {
            $states[$i] = $insert->rest();
            if ($this->act[$i]) {
                $count = $insert instanceof Equalizer ? \count($insert->stateOf($insert->sections, $states[$i])) : \count($states[$i]);
                $taken = \array_slice($own, 0, $count);
                $own = \array_slice($own, $count);
                $states[$i] = $insert instanceof Equalizer ? $insert->withState($states[$i], $insert->sections, $taken) : $taken;
            }
        }

        return array_merge(...$states);
    }

    /**
     * @param list<float> $state
     *
     * @return list<list<float>> by insert
     */
    private function split(array $state): array
    {
        $states = [];
        $at = 0;
        foreach ($this->inserts as $insert) {
            $states[] = \array_slice($state, $at, $count = \count($insert->rest()));
            $at += $count;
        }

        return $states;
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
