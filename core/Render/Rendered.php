<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\Unpacked;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\Peak;

/**
 * What a stage made of one segment: the sound, on the grid, the state it goes on with, and how it was.
 * Sound may be held packed (32-bit integers, interleaved) until somebody wants it.
 */
final class Rendered
{
    public const PEAK_FRAMES = 2048;
    /** Memory that a segment takes beside its sound. */
    private const OWN_BYTES = 1500;
    /** Bytes before the numbers in a file. */
    private const HEADER = 24;

    /**
     * @param list<InsertState>       $states
     * @param array<int, GainCurve>   $curves     gain that was given, by the place of the insert
     * @param array<int, list<float>> $reductions lowest gain of each of them, every PEAK_FRAMES
     * @param list<float>|null        $peaks      null until somebody asks
     */
    private function __construct(
        public readonly array $states,
        public readonly int $frames,
        public readonly array $curves,
        public readonly array $reductions,
        private ?array $peaks,
        private ?StereoBlock $block,
        private ?string $packed,
    ) {
    }

    /**
     * @param list<InsertState>     $states
     * @param array<int, GainCurve> $curves
     */
    public static function of(?StereoBlock $block, int $frames, array $states, array $curves = []): self
    {
        return new self($states, $frames, $curves, array_map(static fn (GainCurve $curve): array => $curve->reductions($frames, self::PEAK_FRAMES), $curves), null, $block, null);
    }

    public function isSilent(): bool
    {
        return null === $this->block && null === $this->packed;
    }

    public function block(): StereoBlock
    {
        if (null === $this->block && null !== $this->packed) {
            $this->block = self::unpack($this->packed);
        }

        return $this->block ?? StereoBlock::silence($this->frames);
    }

    /** @return list<float> left and right by turns, every PEAK_FRAMES */
    public function peaks(): array
    {
        return $this->peaks ??= $this->isSilent() ? [] : self::measure($this->block());
    }

    /** As packed(), with silence written out. */
    public function sound(): string
    {
        return $this->packed() ?: str_repeat("\0", 8 * $this->frames);
    }

    /** Interleaved little-endian 32-bit integers of 2^-23; empty for silence. */
    public function packed(): string
    {
        if (null === $this->packed && null !== $this->block) {
            $values = [];
            $right = $this->block->right;
            foreach ($this->block->left as $i => $l) {
                // Two values of 32 bits in one integer.
                $values[] = ((int) ($l * 8388608.0) & 0xFFFFFFFF) | ((int) ($right[$i] * 8388608.0) << 32);
            }
            $this->packed = pack('P*', ...$values);
        }

        return $this->packed ?? '';
    }

    /** As it comes back from the disk: packed, in a quarter of the room, without curves; also what inserts remember. */
    public function shrunk(): self
    {
        $this->packed();
        $this->block = null;
        foreach ($this->states as $state) {
            $state->memory?->wait();
        }

        return new self($this->states, $this->frames, [], $this->reductions, $this->peaks, null, $this->packed);
    }

    /** Bytes that it takes once it is shrunk(), of which others may share some. */
    public function bytes(): int
    {
        return self::OWN_BYTES + \strlen($this->packed ?? '') + $this->remembered();
    }

    /** Bytes of sound that inserts remember: such a segment is not for the disk. */
    public function remembered(): int
    {
        return (int) array_sum(array_map(static fn (InsertState $s): int => $s->memory?->bytes() ?? 0, $this->states));
    }

    /** For the disk: sound, states and peaks. The curves stay behind, as only deliveries want them and they render anew. */
    public function encode(): string
    {
        $states = '';
        foreach ($this->states as $state) {
            $states .= pack('Ve*', \count($state->numbers), ...$state->numbers);
        }

        return pack('V6', \count($this->states), \strlen($states), \count($this->peaks()), $this->frames, \strlen($this->packed()), \count($this->reductions))
            .pack('e*', ...$this->peaks(), ...array_keys($this->reductions), ...array_merge(...array_values($this->reductions))).$states.$this->packed();
    }

    public static function decode(string $bytes): ?self
    {
        if (\strlen($bytes) < self::HEADER) {
            return null;
        }
        /** @var array{states: int, state: int, peaks: int, frames: int, sound: int, reductions: int} $head */
        $head = unpack('Vstates/Vstate/Vpeaks/Vframes/Vsound/Vreductions', $bytes);
        $columns = (int) ceil($head['frames'] / self::PEAK_FRAMES);
        $numbers = $head['peaks'] + (1 + $columns) * $head['reductions'];
        // A file that was cut short is worth nothing; silence has no sound to check.
        if (\strlen($bytes) !== self::HEADER + 8 * $numbers + $head['state'] + $head['sound']) {
            return null;
        }
        $values = self::doubles($bytes, self::HEADER, $numbers);
        $at = self::HEADER + 8 * $numbers;
        $states = [];
        for ($i = 0; $i < $head['states']; ++$i) {
            /** @var array{numbers: int} $own */
            $own = unpack('Vnumbers', $bytes, $at);
            $states[] = new InsertState(self::doubles($bytes, $at + 4, $own['numbers']));
            $at += 4 + 8 * $own['numbers'];
        }
        $packed = substr($bytes, $at);
        $reductions = [];
        for ($k = 0; $k < $head['reductions']; ++$k) {
            $reductions[(int) $values[$head['peaks'] + $k]] = \array_slice($values, $head['peaks'] + $head['reductions'] + $k * $columns, $columns);
        }

        return new self(
            $states,
            $head['frames'],
            [],
            $reductions,
            \array_slice($values, 0, $head['peaks']),
            null,
            '' === $packed ? null : $packed,
        );
    }

    /** @return list<float> */
    private static function doubles(string $bytes, int $at, int $count): array
    {
        /** @var array<int, float> $values */
        $values = 0 === $count ? [] : unpack('e'.$count, $bytes, $at);

        return array_values($values);
    }

    /** Sound as packed() has it. */
    public static function unpack(string $packed): StereoBlock
    {
        $scale = Grid::STEP;
        $left = $right = [];
        foreach (Unpacked::numbers('q', 8, $packed) as $w) {
            if (!\is_int($w)) {
                throw new \TypeError('Words are integers.');
            }
            $left[] = (($w << 32) >> 32) * $scale;
            $right[] = ($w >> 32) * $scale;
        }

        return new StereoBlock($left, $left === $right ? $left : $right);
    }

    /** @return list<float> */
    private static function measure(StereoBlock $block): array
    {
        $sides = $block->left === $block->right ? [$block->left] : [$block->left, $block->right];
        $peaks = [];
        for ($at = 0, $n = $block->frames(); $at < $n; $at += self::PEAK_FRAMES) {
            foreach ($sides as $side) {
                $peaks[] = $peak = Peak::of(\array_slice($side, $at, self::PEAK_FRAMES));
            }
            if (1 === \count($sides)) {
                $peaks[] = $peak;
            }
        }

        return $peaks;
    }
}
