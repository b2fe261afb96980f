<?php

namespace Pestle\Core\Apart;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;

/**
 * Spectra of a recording's two sides, about 93 ms long and a quarter of that apart. Windows rise and fall as roots of Hann's,
 * once there and once back, so that spectra left alone become the recording again.
 */
final readonly class Spectra
{
    private const SECONDS = 0.0929;
    /** So many lie over one another. */
    public const OVERLAP = 4;

    public Fft $fft;
    public int $hop;
    public Bands $bands;
    /** @var list<float> */
    private array $window;

    public function __construct(private AudioSource $source)
    {
        $this->fft = Fft::near(self::SECONDS * $source->sampleRate());
        $this->hop = intdiv($this->fft->size, self::OVERLAP);
        $this->window = array_map(sqrt(...), Window::hann($this->fft->size));
        $this->bands = new Bands($source->sampleRate() / $this->fft->size, intdiv($this->fft->size, 2) + 1);
    }

    /** How many touch the recording. */
    public function count(): int
    {
        return (int) ceil($this->source->frames() / $this->hop) + self::OVERLAP - 1;
    }

    /**
     * @return iterable<int, array{list<float>, list<float>, list<float>, list<float>}> by its number: real and imaginary of left and right
     */
    public function between(int $from, int $to): iterable
    {
        $size = $this->fft->size;
        $together = 32;
        for ($first = $from; $first < $to; $first += $together) {
            $last = min($to, $first + $together);
            $block = $this->source->read(($first - self::OVERLAP + 1) * $this->hop, ($last - $first - 1) * $this->hop + $size);
            $mono = $block->left === $block->right;
            for ($t = $first; $t < $last; ++$t) {
                $left = $this->fft->forward($this->windowed(\array_slice($block->left, ($t - $first) * $this->hop, $size)));
                $right = $mono ? $left : $this->fft->forward($this->windowed(\array_slice($block->right, ($t - $first) * $this->hop, $size)));
                yield $t => [...$left, ...$right];
            }
        }
    }

    /**
     * @param list<float> $re
     * @param list<float> $im
     *
     * @return list<float> the piece of signal it stands for, to be added where it lies
     */
    public function back(array $re, array $im): array
    {
        $signal = $this->windowed($this->fft->inverse($re, $im));

        // Hann's windows a quarter apart add up to two.
        foreach ($signal as $i => $x) {
            $signal[$i] = 0.5 * $x;
        }

        return $signal;
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private function windowed(array $signal): array
    {
        $out = [];
        foreach ($this->window as $i => $w) {
            $out[] = $w * $signal[$i];
        }

        return $out;
    }
}
