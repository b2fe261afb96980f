<?php

namespace Pestle\Core\Render;

use Pestle\Core\Theory\Tempo;

/** What a strike brings along that its sound is shaped by. */
final readonly class AtStrike
{
    /**
     * @param float       $keyCents how far its pitch lies above where a cut-off that follows the keys is set
     * @param int         $frame    at which it falls, counted from the start of what plays
     * @param int|null    $held     frames until it is let go; null where it is not
     * @param list<Drift> $drifts   settings that go on moving while it sounds
     */
    public function __construct(public int $velocity, public float $keyCents, public Tempo $tempo, public int $frame = 0, public ?int $held = null, public ?Slides $slides = null, public array $drifts = [])
    {
    }
}
