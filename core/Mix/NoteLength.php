<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Tempo;
use Pestle\Core\Theory\Ticks;

/** How a number of sixteenths is counted; free for what does not go by the beat. */
enum NoteLength: string
{
    case Straight = 'straight';
    case Dotted = 'dotted';
    case Triplet = 'triplet';
    case Free = 'free';

    public function isFree(): bool
    {
        return self::Free === $this;
    }

    /** How long so many sixteenths last. */
    public function seconds(int $sixteenths, Tempo $tempo): float
    {
        return $tempo->seconds($sixteenths * Ticks::PER_QUARTER / 24 * $this->sixths());
    }

    /**
     * Twice or half as long, counted alike where that can be, else in another way; what cannot be counted comes close.
     *
     * @return array{self, int}
     */
    public function scaled(int $sixteenths, float $factor, int $most): array
    {
        $sixths = $sixteenths * $this->sixths() * $factor;
        foreach ([$this, self::Straight, self::Dotted, self::Triplet] as $length) {
            $count = $sixths / $length->sixths();
            if ($count === floor($count) && $count <= $most) {
                return [$length, (int) $count];
            }
        }

        return [$this, max(1, min($most, (int) round($sixths / $this->sixths())))];
    }

    /** Sixths of a straight sixteenth that one is long. */
    private function sixths(): int
    {
        return match ($this) {
            self::Dotted => 9,
            self::Triplet => 4,
            default => 6,
        };
    }
}
