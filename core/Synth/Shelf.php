<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Kit\Envelope;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Synth\Shelf\Basses;
use Pestle\Core\Synth\Shelf\Keyboards;
use Pestle\Core\Synth\Shelf\Leads;
use Pestle\Core\Synth\Shelf\Noises;
use Pestle\Core\Synth\Shelf\Pads;
use Pestle\Core\Synth\Shelf\Plucks;
use Pestle\Core\Synth\Shelf\Stabs;

/** Sounds that come with Pestle, made from nothing. Their levels are such that the middle note at a strength of 90 is at -18 LUFS (a test holds them to it). */
final class Shelf
{
    public const USES = ['bass' => 'Bass', 'keys' => 'Keys', 'pluck' => 'Plucks', 'pad' => 'Pads', 'stab' => 'Stabs', 'lead' => 'Leads', 'noise' => 'Noises'];
    /** How much of the level hangs on the strength. */
    public const STRENGTH = 1.0;

    /** @return array<string, ShelfSound> by id */
    public static function all(): array
    {
        $all = [];
        foreach ([...Basses::all(), ...Keyboards::all(), ...Plucks::all(), ...Pads::all(), ...Stabs::all(), ...Leads::all(), ...Noises::all()] as $sound) {
            $all[$sound->id] = $sound;
        }

        return $all;
    }

    public static function find(string $id): ?ShelfSound
    {
        return self::all()[$id] ?? null;
    }

    /** The sound a new instrument begins with. */
    public static function plain(): Keys
    {
        return new Keys([], 'none', levelDb: -12.0, strength: self::STRENGTH, treatment: new Treatment(new Envelope(2.0, 0.0, 300.0, 0.6, 120.0), filter: new Filter(FilterShape::Low, false, 2400.0)), waves: [new Wave(WaveKind::Saw)]);
    }
}
