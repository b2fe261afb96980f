<?php

namespace Pestle\Core\Kit;

/** What a note brings along that may move a setting of its sound. */
enum RoutedBy: string
{
    case Strength = 'strength';
    case Key = 'key';
    case Chance = 'chance';
    case Step = 'step';

    public function label(): string
    {
        return match ($this) {
            self::Strength => 'Strength',
            self::Key => 'Key',
            self::Chance => 'Chance',
            self::Step => 'Step of the bar',
        };
    }
}
