<?php

namespace Pestle\Tests\App\Beside;

use Pestle\App\Beside\Outlet;

/** Sockets of a device that keep what went out. */
final class Sockets implements Outlet
{
    /** @var list<array{string, float}> */
    public array $midi = [];
    /** @var list<float> */
    public array $sound = [];
    /** @var list<array{int, float}> frame and moment of each block */
    public array $blocks = [];
    /** @var list<string> */
    public array $said = [];

    public function __construct(private readonly bool $heard = true)
    {
    }

    public function midi(string $bytes, float $at): void
    {
        $this->midi[] = [$bytes, $at];
    }

    public function sound(int $frame, float $at, array $samples): void
    {
        $this->blocks[] = [$frame, $at];
        array_push($this->sound, ...$samples);
    }

    public function isHeard(): bool
    {
        return $this->heard;
    }

    public function say(string $line): void
    {
        $this->said[] = $line;
    }
}
