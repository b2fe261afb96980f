<?php

namespace Pestle\Core\Song;

/** What was chosen while playing, and the tick from which on it is so: patterns of parts, or nothing, who is silent, and what is held over all. */
final readonly class LiveChoice
{
    /**
     * @param array<string, string|null> $patterns by part; null for nothing
     * @param array<string, bool>        $muted    by part
     * @param array<string, bool>        $held     by HeldEffect, of everything or of a part: begun, or let go
     */
    public function __construct(public string $id, public int $tick, public array $patterns, public array $muted = [], public array $held = [])
    {
    }

    public function says(): bool
    {
        return [] !== $this->patterns || [] !== $this->muted || [] !== $this->held;
    }

    /** Without what another one says of the same parts. What was held is let go when that is said, and stays. */
    public function yielding(self $to): self
    {
        return new self($this->id, $this->tick, array_diff_key($this->patterns, $to->patterns), array_diff_key($this->muted, $to->muted), $this->held);
    }
}
