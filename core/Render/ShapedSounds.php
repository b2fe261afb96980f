<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;

/**
 * Sounds of voices whose pitch moves or that are filtered. They are worked out in blocks from a voice's first frame on,
 * each from the state the one before left, so that equal strikes are worked out once and any stretch can be read again.
 */
final class ShapedSounds
{
    private const BLOCK = 4096;
    /** Blocks that are kept: of two sides each, 16 bytes a value. */
    private const MOST_BLOCKS = 256;
    /** Voices whose states are known. */
    private const MOST_VOICES = 512;

    /** @var array<string, array<int, list<float>>> state before each block that was reached, by sound */
    private array $states = [];
    /** @var array<string, StereoBlock> by sound and block; the one used longest ago comes first */
    private array $blocks = [];

    /**
     * @param int                             $at    frame of the voice, negative within the fade before its start
     * @param callable(int, int): StereoBlock $sound what is shaped, by frames of the voice
     */
    public function read(Voice $voice, int $at, int $count, callable $sound): StereoBlock
    {
        $key = implode(' ', [$voice->sample, $voice->tuneCents, $voice->from, $voice->fadeIn, $voice->glide?->signature(), '/', $voice->round?->signature(), '/', $voice->shaping->sounding ?? '']);
        $out = null;
        for ($from = $at + $voice->fadeIn, $end = $from + $count; $from < $end; $from += $n) {
            $block = intdiv($from, self::BLOCK);
            $within = $from - $block * self::BLOCK;
            $n = min(self::BLOCK - $within, $end - $from);
            $part = $this->block($voice, $key, $block, $sound)->slice($within, $n);
            $out = null === $out ? $part : $out->append($part);
        }

        return $out ?? StereoBlock::silence(0);
    }

    /** @param callable(int, int): StereoBlock $sound */
    private function block(Voice $voice, string $key, int $number, callable $sound): StereoBlock
    {
        $name = $number.' '.$key;
        if (isset($this->blocks[$name])) {
            $block = $this->blocks[$name];
            unset($this->blocks[$name]);

            return $this->blocks[$name] = $block;
        }
        $tone = $voice->shaping?->tone;
        if (null === $tone) {
            return $this->keep($name, $this->moved($voice, $number, $sound));
        }
        for ($k = $number; $k > 0 && !isset($this->states[$key][$k]); --$k) {
        }
        $block = StereoBlock::silence(0);
        for (; $k <= $number; ++$k) {
            [$block, $this->states[$key][$k + 1]] = $tone->process($this->moved($voice, $k, $sound), $k * self::BLOCK - $voice->fadeIn, $this->states[$key][$k] ?? []);
            $this->keep($k.' '.$key, $block);
        }
        if (\count($this->states) > self::MOST_VOICES) {
            array_shift($this->states);
        }

        return $block;
    }

    /** @param callable(int, int): StereoBlock $sound */
    private function moved(Voice $voice, int $number, callable $sound): StereoBlock
    {
        $margin = $voice->shaping?->tone?->margin() ?? 0;
        $at = $number * self::BLOCK - $voice->fadeIn - $margin;
        $motion = $voice->shaping?->motion;

        return null === $motion ? $sound($at, self::BLOCK + 2 * $margin) : $motion->read($at, self::BLOCK + 2 * $margin, $sound);
    }

    private function keep(string $name, StereoBlock $block): StereoBlock
    {
        $this->blocks[$name] = $block;
        if (\count($this->blocks) > self::MOST_BLOCKS) {
            array_shift($this->blocks);
        }

        return $block;
    }
}
