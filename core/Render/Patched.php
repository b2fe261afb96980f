<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/** A sound some pieces of which are there, among another that stands for the rest and goes over into them. */
final readonly class Patched implements AudioSource
{
    /** Frames over which one goes over into the other, within the piece that is there. */
    private const FADE = 512;

    /**
     * @param string $pieces one letter a piece, 1 for those that are there
     * @param int    $piece  frames of a piece
     */
    public function __construct(private AudioSource $other, private AudioSource $there, private string $pieces, private int $piece)
    {
    }

    public function sampleRate(): int
    {
        return $this->there->sampleRate();
    }

    public function frames(): int
    {
        return $this->there->frames();
    }

    public function read(int $start, int $count): StereoBlock
    {
        $whole = StereoBlock::silence(0);
        for ($at = $start, $end = $start + $count; $at < $end; $at += $n) {
            $i = intdiv(max(0, $at), $this->piece);
            $n = min($end, ($i + 1) * $this->piece) - $at;
            $whole = $whole->append($this->has($i) ? $this->joined($i, $at, $n) : $this->other->read($at, $n));
        }

        return $whole;
    }

    private function has(int $i): bool
    {
        return '1' === ($this->pieces[$i] ?? '0');
    }

    private function joined(int $i, int $at, int $count): StereoBlock
    {
        $block = $this->there->read($at, $count);
        $start = $i * $this->piece;
        $end = min($start + $this->piece, $this->frames());
        $in = !$this->has($i - 1) && $i > 0 && $at < $start + self::FADE;
        $out = !$this->has($i + 1) && $end < $this->frames() && $at + $count > $end - self::FADE;
        if (!$in && !$out) {
            return $block;
        }
        $other = $this->other->read($at, $count);
        [$left, $right] = [$block->left, $block->right];
        foreach ($left as $k => $l) {
            $gain = min(1.0, $in ? ($at + $k - $start) / self::FADE : 1.0, $out ? ($end - $at - $k) / self::FADE : 1.0);
            $left[$k] = $l * $gain + $other->left[$k] * (1.0 - $gain);
            $right[$k] = $right[$k] * $gain + $other->right[$k] * (1.0 - $gain);
        }

        return new StereoBlock($left, array_values($right));
    }
}
