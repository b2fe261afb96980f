<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Settings;
use Pestle\Core\Theory\Tempo;

/** InsertSettings for what holds nothing but its parameters: an id, on or off, numbers and choices. */
trait PlainInsert
{
    use Settings;

    public function id(): string
    {
        return $this->id;
    }

    public function kind(): InsertKind
    {
        return self::KIND;
    }

    public function acts(): bool
    {
        return $this->on;
    }

    public function key(): ?string
    {
        return null;
    }

    public function steeredBy(?string $key): static
    {
        return $this;
    }

    public function goesByTime(): bool
    {
        return false;
    }

    public function isLinear(): bool
    {
        return true;
    }

    public function seconds(Tempo $tempo): float
    {
        return self::USUAL_SECONDS;
    }

    public function lateFrames(float $sampleRate): int
    {
        return 0;
    }

    public function share(): float
    {
        return self::KIND->mixesItself() ? 1.0 : 0.01 * $this->mix;
    }

    public function with(array $changed): static
    {
        // By name: every class of these has other fields.
        return (new \ReflectionClass(self::class))->newInstanceArgs([...get_object_vars($this), ...$changed]);
    }

    public function toArray(): array
    {
        /** @var array<string, mixed> $plain */
        $plain = ['kind' => self::KIND->value, ...array_map(static fn (mixed $value): mixed => $value instanceof \BackedEnum ? $value->value : $value, get_object_vars($this))];

        return $plain;
    }
}
