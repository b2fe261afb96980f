<?php

namespace Pestle\Core\Exchange\Sfz;

use Pestle\Core\Kit\Role;

/** What names and keys say of sounds. */
final class Names
{
    /** An opcode of our own, which others pass over: what a sound does in a beat. */
    public const ROLE = 'x_role';
    private const ROLES = [
        '/kick|bass ?drum|\bbd\b|mortar/i' => Role::Kick, '/snare|\bsd\b|rim|side ?stick/i' => Role::Snare, '/clap|hands/i' => Role::Clap,
        '/open.?hat|hat.?open|\boh\b|ohh/i' => Role::OpenHat, '/hat|\bhh\b|shaker/i' => Role::Hat, '/\btom|floor/i' => Role::Tom,
        '/crash|ride|cymbal|china|splash/i' => Role::Cymbal, '/conga|bongo|cowbell|tamb|clave|block|perc|agogo|triangle|guiro|maraca|cabasa/i' => Role::Percussion,
        '/\bbass\b|sub/i' => Role::Bass, '/vox|voice|vocal|hum/i' => Role::Voice, '/fx|noise|sweep|riser/i' => Role::Effect,
    ];
    /** Keys of the General MIDI percussion map. */
    private const KEYS = [35 => Role::Kick, 36 => Role::Kick, 37 => Role::Snare, 38 => Role::Snare, 39 => Role::Clap, 40 => Role::Snare, 41 => Role::Tom, 42 => Role::Hat, 43 => Role::Tom, 44 => Role::Hat, 45 => Role::Tom, 46 => Role::OpenHat, 47 => Role::Tom, 48 => Role::Tom, 49 => Role::Cymbal, 50 => Role::Tom, 51 => Role::Cymbal, 52 => Role::Cymbal, 53 => Role::Cymbal, 55 => Role::Cymbal, 57 => Role::Cymbal, 59 => Role::Cymbal];

    public static function role(string $name, int $key): Role
    {
        foreach (self::ROLES as $pattern => $role) {
            if (preg_match($pattern, strtr($name, '_-', '  '))) {
                return $role;
            }
        }

        return self::KEYS[$key] ?? Role::Percussion;
    }

    /** The note a file's name ends in or holds, such as "piano_F#3.wav" or "vibes 60": a MIDI number, or null. */
    public static function key(string $path): ?int
    {
        $name = (string) preg_replace('/\.\w{1,5}$/', '', basename($path));
        if (preg_match('/(?<![A-Za-z])([A-Ga-g])([#b♯♭s]?)(-?[0-8])(?![0-9])/u', $name, $m)) {
            $sign = match ($m[2]) {
                '#', '♯', 's' => 1,
                'b', '♭' => -1,
                default => 0,
            };

            return ['c' => 0, 'd' => 2, 'e' => 4, 'f' => 5, 'g' => 7, 'a' => 9, 'b' => 11][strtolower($m[1])] + $sign + 12 * ((int) $m[3] + 1);
        }

        return preg_match('/(?<!\d)(2[1-9]|[3-9]\d|10[0-8])(?!\d)/', $name, $m) ? (int) $m[1] : null;
    }
}
