<?php

namespace Pestle\Core\Mix;

/**
 * What an insert remembers of the sound that went through it: lines of values, the oldest first. It is made of pieces that
 * never change and that later memories share, so that remembering seconds takes no more room than what came last.
 */
final readonly class Memory
{
    /** What is remembered are multiples of this: written with (int) ($x / STEP) * STEP, towards nothing, so that it ends. */
    public const STEP = 1.0 / 4194304.0;
    /** Frames from which on a new piece is begun. */
    private const PIECE = 4096;

    /**
     * @param int               $frames how many of the last are remembered
     * @param list<MemoryPiece> $pieces together at least as many, unless nothing was there before
     */
    private function __construct(public int $frames, private array $pieces)
    {
    }

    public static function none(int $frames): self
    {
        return new self($frames, []);
    }

    /**
     * Lines of any length, all of them new.
     *
     * @param non-empty-list<list<float>> $lines
     */
    public static function whole(array $lines): self
    {
        $piece = new MemoryPiece($lines);

        return new self($piece->frames, $piece->isSilent() ? [] : [$piece]);
    }

    /** @return list<list<float>> the lines of a whole(); none for silence */
    public function lines(): array
    {
        return [] === $this->pieces ? [] : $this->pieces[0]->lines();
    }

    /** Of another length: what is longer begins with nothing. */
    public function of(int $frames): self
    {
        return $frames === $this->frames ? $this : new self($frames, $this->pieces);
    }

    /**
     * All of it in another time, as a tape does that runs faster or slower: echoes keep to a tempo that moves.
     * Source: E. Catmull and R. Rom, "A class of local interpolating splines" (1974).
     */
    public function bent(int $frames): self
    {
        if ($frames === $this->frames || [] === $this->pieces) {
            return $this->of($frames);
        }
        $bent = [];
        foreach (array_keys($this->pieces[0]->lines()) as $l) {
            $line = $this->read($l, 0, $this->frames);
            $bent[] = self::resampled([$line[0], ...$line, $line[$this->frames - 1], $line[$this->frames - 1]], $this->frames / $frames, $frames, self::STEP);
        }

        return (new self($frames, []))->followedBy($bent);
    }

    /**
     * @param list<float> $line with one value more before it and two behind
     *
     * @return list<float>
     */
    private static function resampled(array $line, float $ratio, int $frames, float $step): array
    {
        $out = [];
        $scale = 1.0 / $step;
        for ($i = 0; $i < $frames; ++$i) {
            $at = $i * $ratio;
            $k = (int) $at;
            $t = $at - $k;
            $a = $line[$k];
            $b = $line[$k + 1];
            $c = $line[$k + 2];
            $d = $line[$k + 3];
            $out[] = (int) (($b + 0.5 * $t * ($c - $a + $t * (2.0 * $a - 5.0 * $b + 4.0 * $c - $d + $t * (3.0 * ($b - $c) + $d - $a)))) * $scale) * $step;
        }

        return $out;
    }

    /**
     * Values of a line; nothing where there was nothing yet.
     *
     * @param int $from of those that are remembered, 0 for the oldest
     *
     * @return list<float>
     */
    public function read(int $line, int $from, int $count): array
    {
        $held = array_sum(array_map(static fn (MemoryPiece $p): int => $p->frames, $this->pieces));
        $at = $held - $this->frames + $from;
        $out = $at < 0 ? array_fill(0, min($count, -$at), 0.0) : [];
        foreach ($this->pieces as $piece) {
            $want = $count - \count($out);
            if ($want < 1) {
                break;
            }
            if ($at + \count($out) < $piece->frames && $at + \count($out) >= 0) {
                $out = [...$out, ...\array_slice($piece->lines()[$line], $at + \count($out), $want)];
            }
            $at -= $piece->frames;
        }

        return $out;
    }

    /**
     * With values that came after it.
     *
     * @param non-empty-list<list<float>> $lines each as long as the others
     */
    public function followedBy(array $lines): self
    {
        $pieces = $this->pieces;
        $last = array_key_last($pieces);
        if (null !== $last && $pieces[$last]->frames < self::PIECE) {
            $before = array_pop($pieces)->lines();
            foreach ($lines as $k => $line) {
                $lines[$k] = [...$before[$k], ...$line];
            }
        }
        $pieces[] = new MemoryPiece($lines);
        $held = array_sum(array_map(static fn (MemoryPiece $p): int => $p->frames, $pieces));
        while (\count($pieces) > 1 && $held - $pieces[0]->frames >= $this->frames) {
            $held -= array_shift($pieces)->frames;
        }
        $heard = array_filter($pieces, static fn (MemoryPiece $p): bool => !$p->isSilent());

        return new self($this->frames, [] === $heard ? [] : $pieces);
    }

    /** Bytes it takes while it waits, of which later ones share some. */
    public function bytes(): int
    {
        return [] === $this->pieces ? 0 : $this->pieces[array_key_last($this->pieces)]->bytes();
    }

    /** Lets go of what it holds as numbers. */
    public function wait(): void
    {
        foreach ($this->pieces as $piece) {
            $piece->wait();
        }
    }

    /** The same name means the same values. */
    public function name(): string
    {
        return [] === $this->pieces ? '' : implode('', array_map(static fn (MemoryPiece $p): string => $p->name(), $this->pieces));
    }
}
