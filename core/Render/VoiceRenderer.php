<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Signal\Grid;

/** The sound of voices in a segment, on the grid. Any segment can be rendered on its own and is always the same. */
final readonly class VoiceRenderer
{
    public function __construct(private PadSounds $sounds)
    {
    }

    /** @param list<array{Voice, int}> $voices as Segment holds them */
    public function render(array $voices, int $frames): ?StereoBlock
    {
        $out = null;
        foreach ($voices as [$voice, $start]) {
            $from = max(0, $start - $voice->fadeIn);
            $to = min($frames, $start + $voice->length);
            if ($to <= $from) {
                continue;
            }
            $sound = $this->faded($voice, $this->read($voice, $from - $start, $to - $from), $from - $start);
            $gains = self::gains($voice, $from - $start, $to - $from);
            $places = $voice->shaping?->places($from - $start, $to - $from);
            if (null !== $places) {
                $sound = new StereoBlock(self::times($sound->left, $places[0]), self::times($sound->right, $places[1]));
            }
            if (null === $out && null === $gains && $to - $from === $frames) {
                $out = $this->alone($voice, $sound);
            } else {
                $out = self::added($out, $sound, $voice->gainLeft, $voice->gainRight, $from, $frames, $gains);
            }
        }

        return $out;
    }

    /** The sound of a voice before its level, counted from where it is at full level. */
    private function read(Voice $voice, int $at, int $count): StereoBlock
    {
        $played = fn (int $from, int $frames): StereoBlock => $this->played($voice, $from, $frames);

        return '' === ($voice->shaping->sounding ?? '') ? $this->played($voice, $at, $count) : $this->sounds->shaped->read($voice, $at, $count, $played);
    }

    private function played(Voice $voice, int $at, int $count): StereoBlock
    {
        $plain = null === $voice->made
            ? fn (int $from, int $frames): StereoBlock => $this->sounds->read($voice->sample, $voice->tuneCents, $voice->from + $from, $frames)
            : fn (int $from, int $frames): StereoBlock => $this->sounds->made->read($voice->made, $voice->from + $from, $frames);
        $round = $voice->round;
        $sound = null === $round ? $plain : static fn (int $from, int $frames): StereoBlock => $round->read($from, $frames, $plain);
        $glide = $voice->glide;
        if (null === $glide) {
            return $sound($at, $count);
        }
        $there = max($at, $glide->frames);
        if ($there >= $at + $count) {
            return $glide->read($at, $count, $sound);
        }
        $rest = $sound($there + $glide->shift, $at + $count - $there);

        return $there === $at ? $rest : $glide->read($at, $there - $at, $sound)->append($rest);
    }

    /**
     * A recording that plays alone and at one level throughout a segment, as it is stored.
     *
     * @param list<array{Voice, int}> $voices as Segment holds them
     *
     * @return array{string, float, float}|null bytes as PcmFile::stereo16() has them and their level left and right; null for all else
     */
    public function recording(array $voices, int $frames): ?array
    {
        if (1 !== \count($voices)) {
            return null;
        }
        [$voice, $start] = $voices[0];
        $bytes = null === $voice->made && null === $voice->glide && null === $voice->round && null === $voice->shaping && null === $voice->release && $start <= 0 && $start + $voice->length - $voice->fadeOut >= $frames
            ? $this->sounds->stereo16($voice->sample, $voice->tuneCents, $voice->from - $start, $frames)
            : null;

        return null === $bytes ? null : [$bytes, $voice->gainLeft, $voice->gainRight];
    }

    /** A voice that fills the segment: nothing to add it to. */
    private function alone(Voice $voice, StereoBlock $sound): StereoBlock
    {
        $unchanged = 1.0 === $voice->gainLeft && 1.0 === $voice->gainRight && null === $voice->made && null === $voice->shaping && null === $voice->release && $this->sounds->isOnGrid($voice->sample, $voice->tuneCents);

        return $unchanged ? Gain::sides($sound, 1.0, 1.0) : Gain::onGrid(Gain::sides($sound, $voice->gainLeft, $voice->gainRight));
    }

    /** @return list<float>|null the level that its shape and its release give it, one a frame; null where it has none */
    private static function gains(Voice $voice, int $at, int $frames): ?array
    {
        $gains = $voice->shaping?->contour?->gains($at, $frames);

        return null === $voice->release || $at + $frames <= $voice->release->at ? $gains : $voice->release->over($gains ?? array_fill(0, $frames, 1.0), $at);
    }

    /**
     * @param list<float> $signal
     * @param list<float> $gains
     *
     * @return list<float>
     */
    private static function times(array $signal, array $gains): array
    {
        foreach ($signal as $i => $x) {
            $signal[$i] = $x * $gains[$i];
        }

        return array_values($signal);
    }

    /** @param list<float>|null $gains one a frame */
    private static function added(?StereoBlock $sum, StereoBlock $sound, float $gainLeft, float $gainRight, int $at, int $frames, ?array $gains): StereoBlock
    {
        $mono = $gainLeft === $gainRight && $sound->left === $sound->right && (null === $sum || $sum->left === $sum->right);
        $sum ??= StereoBlock::silence($frames);
        if (null === $gains) {
            $left = self::side($sum->left, $sound->left, $gainLeft, $at);

            return new StereoBlock($left, $mono ? $left : self::side($sum->right, $sound->right, $gainRight, $at));
        }
        $left = self::swelling($sum->left, $sound->left, $gains, $gainLeft, $at);

        return new StereoBlock($left, $mono ? $left : self::swelling($sum->right, $sound->right, $gains, $gainRight, $at));
    }

    /**
     * @param list<float> $sum
     * @param list<float> $sound
     *
     * @return list<float>
     */
    private static function side(array $sum, array $sound, float $gain, int $at): array
    {
        $grid = Grid::SOUND;
        foreach ($sound as $i => $x) {
            $sum[$at + $i] += ($x * $gain + $grid) - $grid;
        }

        return array_values($sum);
    }

    /**
     * @param list<float> $sum
     * @param list<float> $sound
     * @param list<float> $gains
     *
     * @return list<float>
     */
    private static function swelling(array $sum, array $sound, array $gains, float $gain, int $at): array
    {
        $grid = Grid::SOUND;
        foreach ($sound as $i => $x) {
            $g = $gains[$i];
            if (!\is_float($x) || !\is_float($g)) {
                throw new \TypeError('Sound is floats.');
            }
            $sum[$at + $i] += ($x * $g * $gain + $grid) - $grid;
        }

        return array_values($sum);
    }

    /** @param int $at frame of the voice at which $sound begins, negative within the fade before its start */
    private function faded(Voice $voice, StereoBlock $sound, int $at): StereoBlock
    {
        $frames = $sound->frames();
        if ($at >= 0 && $at + $frames <= $voice->length - $voice->fadeOut) {
            return $sound;
        }
        [$left, $right] = [$sound->left, $sound->right];
        $same = $left === $right;
        // Floats are divided on purpose: of integers, PHP makes an integer where it comes out even, and a loop whose types change has been compiled wrongly.
        [$fadeIn, $fadeOut] = [(float) $voice->fadeIn, (float) $voice->fadeOut];
        for ($i = 0; $i < min($frames, -$at); ++$i) {
            $gain = ($fadeIn + $at + $i) / $fadeIn;
            $left[$i] *= $gain;
            $right[$i] *= $gain;
        }
        for ($i = max(0, $voice->length - $voice->fadeOut - $at); $i < $frames; ++$i) {
            $gain = ($voice->length - $at - $i) / $fadeOut;
            $left[$i] *= $gain;
            $right[$i] *= $gain;
        }
        $left = array_values($left);

        return new StereoBlock($left, $same ? $left : array_values($right));
    }
}
