<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\Settable;

/** What one sound of a pattern has for itself: a length that it goes round with, and a feel in place of the pattern's. */
final readonly class Lane implements Settable
{
    /** @param int|null $ticks its own length; null where it lasts as long as the pattern */
    public function __construct(public ?int $ticks = null, public ?Feel $feel = null)
    {
        if (null !== $ticks && $ticks < 1) {
            throw new \InvalidArgumentException('A lane that goes round needs a length.');
        }
    }

    public static function parameters(): array
    {
        return [];
    }

    public function settings(): array
    {
        return [];
    }

    public function with(array $changed): static
    {
        /** @var array{ticks: int|null, feel: Feel|null} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function inner(): array
    {
        return null === $this->feel ? [] : ['feel' => $this->feel];
    }

    public function withInner(string $path, Settable $inner): static
    {
        return $this->with(['feel' => $inner]);
    }

    public function isPlain(): bool
    {
        return null === $this->ticks && null === $this->feel;
    }
}
