<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Beat\Beat;

/** Names of delivered files: each tells its part, tempo and key. */
final class DeliveryNames
{
    public static function mix(Beat $beat, string $title): string
    {
        return self::safe($title.' - mix'.self::measure($beat)).'.wav';
    }

    public static function stem(Beat $beat, int $number, string $part): string
    {
        return self::safe(\sprintf('%02d %s', $number, $part).self::measure($beat)).'.wav';
    }

    public static function archive(Beat $beat, string $title): string
    {
        return self::safe($title.self::measure($beat)).'.zip';
    }

    private static function measure(Beat $beat): string
    {
        return \sprintf(' - %s BPM', $beat->tempo->bpm).(null === $beat->key ? '' : ' - '.$beat->key->name());
    }

    /** Without what a file system might refuse, or a command take for an option. */
    public static function safe(string $name): string
    {
        $name = trim((string) preg_replace('~[\x00-\x20<>:"/\\\\|?*]+~u', ' ', $name), ' .');
        $name = ltrim($name, '- .');

        return mb_strcut('' === $name ? 'Beat' : $name, 0, 180);
    }
}
