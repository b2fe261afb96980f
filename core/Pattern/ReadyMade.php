<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Theory\Ticks;

/**
 * A drum pattern to begin with, written by roles: a row of sixteenths each (or of triplets of eighths, twelve a bar).
 * A digit is a strength in ninths, a point a rest, r a roll of three over its step. It is laid onto any kit: each role on
 * its first pad, or on one that comes near.
 */
final readonly class ReadyMade
{
    private const ROLL = 'r';

    /**
     * @param string                $style a few words on what it is for
     * @param array{int, int}       $tempo in which it is at home, in BPM
     * @param array<string, string> $rows  by role
     * @param array<string, mixed>  $feel  settings
     * @param int                   $step  ticks of each place
     */
    private function __construct(public string $id, public string $name, public string $style, public array $tempo, private array $rows, public array $feel = [], private int $step = Ticks::PER_STEP)
    {
    }

    /** @return array<string, self> by id */
    public static function all(): array
    {
        return array_column([
            new self('market-walk', 'Market walk', 'head-nodding, dusty', [82, 96], ['kick' => '9......5..9..... 9......5..98....', 'snare' => '....9.....2.9..2 ....9..2....9..3', 'hat' => '7.5.7.5.7.5.7.5. 7.5.7.5.7.5.7.55'], ['swing' => 58.0]),
            new self('slow-kettle', 'Slow kettle', 'sleepy, late snare', [68, 82], ['kick' => '9.....4...8..... 9..4......8..4..', 'snare' => '....8.......8... ....8.......8.1.', 'hat' => '6.466.466.466.46 6.466.466.466.64', 'percussion' => '..........3..... ......3.........'], ['swing' => 60.0, 'groove' => 'late-cart']),
            new self('boiler', 'Boiler', 'four on the floor', [118, 130], ['kick' => '9...9...9...9... 9...9...9...9..5', 'clap' => '....8.......8... ....8.......8...', 'hat' => '3.4.3.4.3.4.3.4. 3.4.3.4.3.4.3.45', 'open-hat' => '..7...7...7...7. ..7...7...7...7.'], ['swing' => 52.0]),
            new self('platform', 'Platform', 'deep and rolling, four on the floor', [116, 126], ['kick' => '9...9...9...9... 9...9...9...9...', 'snare' => '..............2. ......2.......3.', 'clap' => '....7.......7... ....7.......7...', 'hat' => '.5.6.5.6.5.6.5.6 .5.6.5.6.5.6.5.7', 'percussion' => '...5..4...5..... ...5..4...5...6.'], ['swing' => 56.0]),
            new self('half-lantern', 'Half lantern', 'half-time, heavy', [130, 150], ['kick' => '9.....7......... 9..7..........5.', 'snare' => '........9....... ........9......2', 'hat' => '7.5.7.5.7.5.7.5. 7.5.7.r.7.5.7.57']),
            new self('rain-gutter', 'Rain gutter', 'half-time, rattling hats', [136, 160], ['kick' => '9......6..8..... 9.....7...8...5.', 'clap' => '........9....... ........9.......', 'hat' => '7.6.7.r.7.6.7676 7.6.r.6.7.rr7.67', 'open-hat' => '..............5. ................']),
            new self('cobbled', 'Cobbled break', 'broken and fast', [160, 176], ['kick' => '9.9.......9..... 9.9.......9....7', 'snare' => '....9..2.2..9..2 ....9..2.2..9.23', 'hat' => '7.6.7.6.7.6.7.6. 7.6.7.6.7.6.7.6.', 'cymbal' => '6............... ................'], ['groove' => 'push', 'grooveTiming' => 60.0]),
            new self('tin-roof', 'Tin roof', 'break, loose', [96, 116], ['kick' => '9.7.......7..7.. 9.7....5..7.....', 'snare' => '....9..3.3..9..3 ....9..3.3..9.4.', 'hat' => '8.6.8.6.8.6.8.6. 8.6.8.6.8.6.86..', 'open-hat' => '................ ..............6.'], ['groove' => 'cobbles', 'grooveTiming' => 70.0]),
            new self('night-bus', 'Night bus', 'two steps, skipping', [126, 136], ['kick' => '9.........7..... 9.....6...7.....', 'snare' => '....8..2....8... ....8..2....8.2.', 'hat' => '5.6..56.5.6..56. 5.6..56.5.66.56.', 'percussion' => '.......4......4. .......4..4.....'], ['swing' => 62.0]),
            new self('tile-dance', 'Tile dance', 'three, three and two', [88, 104], ['kick' => '9...8...9...8... 9...8...9...8...', 'snare' => '...8..8....8..8. ...8..8....8..87', 'hat' => '5.5.5.5.5.5.5.5. 5.5.5.5.5.5.5.55', 'percussion' => '..4...4...4...4. ..4...4...4...4.']),
            new self('clay-pot', 'Clay pot', 'rolling triplets', [94, 124], ['kick' => '9.....7..... 9....47.....', 'percussion' => '8.5.86.5.8.5 8.5.86.5.8.6', 'hat' => '5..5..5..5.. 5..5..5..5.5', 'tom' => '...........6 .........5.7'], [], 320),
            new self('brass-lamp', 'Brass lamp', 'tight sixteenths', [96, 112], ['kick' => '9.6.....7.9..... 9..6....7.9...6.', 'snare' => '....9..2.2..9..1 ....9.2..2.29...', 'hat' => '8575857585758575 85758575857585.5', 'open-hat' => '................ ..............6.'], ['groove' => 'half-lean', 'grooveTiming' => 50.0]),
            new self('ferry', 'Ferry', 'off the beat, bass drum on three', [70, 90], ['kick' => '........9....... ........9.....4.', 'snare' => '........7....... ........7..3....', 'hat' => '..8...8...8...8. ..8...8...8..48.', 'percussion' => '5.....4.....4... 5.....4...5.4...'], ['swing' => 60.0, 'swingOn' => 'eighths']),
            new self('harbour', 'Harbour', 'dancing, busy hands', [98, 126], ['kick' => '9..59..59..59..5 9..59..59..59..5', 'snare' => '7..5..7..5.7..5. 7..5..7...7.5.5.', 'hat' => '7575757575757575 7575757575757575', 'tom' => '....8.......8... ....8.......8.66']),
            new self('open-square', 'Open square', 'straight and large', [74, 132], ['kick' => '9.......9.7..... 9.......9.7...5.', 'snare' => '....9.......9... ....9.......9..4', 'hat' => '7.6.7.6.7.6.7.6. 7.6.7.6.7.6.7...', 'cymbal' => '8............... ................', 'open-hat' => '................ ..............7.']),
            new self('paper', 'Paper', 'hardly anything', [80, 128], ['kick' => '9............... 9.........6.....', 'clap' => '........8....... ........8.......', 'percussion' => '......4......4.. ......4.......4.']),
        ], null, 'id');
    }

    public function ticks(): int
    {
        return \strlen(str_replace(' ', '', array_values($this->rows)[0] ?? '')) * $this->step;
    }

    /**
     * @param list<Pad> $pads of a kit
     *
     * @return list<Hit> empty where none of them could play it
     */
    public function on(array $pads): array
    {
        $hits = [];
        foreach ($this->rows as $role => $row) {
            $pad = self::padFor(Role::from($role), $pads);
            if (null === $pad) {
                continue;
            }
            foreach (str_split(str_replace(' ', '', $row)) as $i => $sign) {
                if ('.' !== $sign) {
                    $roll = self::ROLL === $sign;
                    $hits[] = new Hit($i * $this->step, $pad->id, $roll ? 84 : (int) round(127 * (int) $sign / 9), $this->step, strikes: $roll ? 3 : 1);
                }
            }
        }

        return $hits;
    }

    /**
     * The first pad of a role, or one that comes near.
     *
     * @param list<Pad> $pads
     */
    public static function padFor(Role $role, array $pads): ?Pad
    {
        foreach ([$role, ...$role->instead()] as $could) {
            foreach ($pads as $pad) {
                if ($pad->role === $could) {
                    return $pad;
                }
            }
        }

        return null;
    }
}
