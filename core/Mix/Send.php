<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** How much of a line goes to a return beside its way to the master. */
final readonly class Send implements Settable
{
    use Settings;

    /** @param bool $beforeFader whether its level is its own; else it follows the line's level and place */
    public function __construct(public float $gainDb = -12.0, public bool $beforeFader = false)
    {
    }

    public static function parameters(): array
    {
        return [
            'gainDb' => Parameter::number('Send', 'dB', -60.0, 12.0, -12.0, 0.5, moves: true),
            'beforeFader' => Parameter::onOff('Before the fader'),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{gainDb: float, beforeFader: bool} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }
}
