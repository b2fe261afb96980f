<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Channel;
use Pestle\Core\Mix\Compressor;
use Pestle\Core\Mix\Equalizer;
use Pestle\Core\Mix\RecordingSum;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Peak;

/** A channel's way from its pads to its fader: equalizer, compressor, level and pan. */
final readonly class Strip
{
    /** What the sound before the fader depends on, apart from what is played. */
    public string $signature;
    public float $gainLeft;
    public float $gainRight;
    private Equalizer $equalizer;
    private ?Compressor $compressor;

    /** @param list<string> $pads that feed the channel */
    public function __construct(public Channel $channel, public array $pads, float $sampleRate)
    {
        $this->equalizer = Equalizer::of($channel->eq, $sampleRate);
        $this->compressor = $channel->compressor->on ? new Compressor($channel->compressor, $sampleRate) : null;
        $gain = Decibels::toGain($channel->gainDb);
        [$left, $right] = Panning::gains($channel->pan);
        [$this->gainLeft, $this->gainRight] = [$gain * $left, $gain * $right];
        $this->signature = serialize([$this->equalizer->isActive() ? $channel->eq : null, null === $this->compressor ? null : $channel->compressor]);
    }

    /** @return list<float> equalizer first, then compressor */
    public function rest(): array
    {
        return [...$this->equalizer->rest(), ...$this->compressor?->rest() ?? []];
    }

    /** @return list<float> */
    public function equalizerRest(): array
    {
        return $this->equalizer->rest();
    }

    /** @param list<float> $state */
    public function process(?StereoBlock $dry, int $frames, array $state): Rendered
    {
        if (null === $this->compressor) {
            [$equalized, $next] = $this->equalize($dry, $frames, $state);

            return Rendered::of(null === $equalized ? null : Gain::onGrid($equalized), $frames, $next);
        }
        if (null === $dry && $state === $this->rest()) {
            return Rendered::of(null, $frames, $state, $this->compressor->restingCurve($frames));
        }
        $dry ??= StereoBlock::silence($frames);
        $first = $this->equalizer->withoutLastTwo();
        $split = \count($first->rest());
        [$sound, $next] = $first->process($dry, \array_slice($state, 0, $split));
        [$sound, $rest, $curve] = $this->compressor->process($sound, \array_slice($state, $split), \array_slice($this->equalizer->sections, -2));

        return Rendered::of($sound, $frames, [...$next, ...$rest], $curve);
    }

    /** Whether add() can be used: with a compressor and no more equalizer than runs beside it. */
    public function takesRecordings(int $frames): bool
    {
        return null !== $this->compressor && \count($this->equalizer->sections) <= 2 && 0 === $frames % RecordingSum::FRAMES;
    }

    /**
     * Adds a recording on its way from the disk to the sum; what is given back has no sound of its own.
     *
     * @param array{string, float, float} $recording as VoiceRenderer::recording()
     * @param list<float>                 $state
     */
    public function add(array $recording, int $frames, array $state, RecordingSum $sum): Rendered
    {
        [$bytes, $left, $right] = $recording;
        $compressor = $this->compressor ?? throw new \LogicException('Ask takesRecordings() first.');
        [$next, $curve] = $sum->add($bytes, [$left, $right, $this->gainLeft, $this->gainRight], $this->equalizer->sections, $compressor, $state);

        return Rendered::of(null, $frames, $next, $curve);
    }

    /**
     * @param list<float> $state
     *
     * @return array{StereoBlock|null, list<float>} null is silence
     */
    public function equalize(?StereoBlock $dry, int $frames, array $state): array
    {
        if (!$this->equalizer->isActive() || (null === $dry && 0.0 === Peak::of($state))) {
            return [$dry, $state];
        }

        return $this->equalizer->process($dry ?? StereoBlock::silence($frames), $state);
    }
}
