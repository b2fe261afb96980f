<?php

namespace Pestle\Core\Mix;

/** PlainInsert for what another line may steer: it has a key, null for its own sound. */
trait SteeredInsert
{
    use PlainInsert;

    public function key(): ?string
    {
        return $this->key;
    }

    public function steeredBy(?string $key): static
    {
        return $this->with(['key' => $key]);
    }

    /** What comes out is not the sum of what its parts would be. */
    public function isLinear(): bool
    {
        return false;
    }
}
