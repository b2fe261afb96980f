<?php

namespace Pestle\App\Demo;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Envelope;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoShape;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Role;
use Pestle\Core\Kit\Sweep;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Synth\StallVoices;

/**
 * The kits of the stalls on Lantern Street, made of sounds that are worked out here. All of them are as loud as each other,
 * role by role.
 */
final class StallKits
{
    public const TAGS = [
        'Tea stall' => ['warm', 'slow'], 'Tram stop' => ['straight', 'club'], 'Rain roof' => ['low', 'half-time'],
        'Noodle bar' => ['wood', 'dry'], 'Repair bench' => ['metal', 'hard'], 'Paper lanterns' => ['soft', 'brushes'],
    ];
    /** Loudness of the strongest strike by role, in dB (RMS of its loudest 50 ms). */
    private const LOUDNESS = ['kick' => -13.0, 'snare' => -15.0, 'clap' => -16.0, 'hat' => -24.0, 'open-hat' => -23.0, 'tom' => -16.0, 'cymbal' => -24.0, 'percussion' => -20.0, 'effect' => -24.0];
    private const LOUDEST_SECONDS = 0.05;

    /** @return array<string, callable(): StereoBlock> sounds by name */
    public static function sounds(int $rate): array
    {
        $v = new StallVoices($rate);
        $d = new DrumVoices($rate);
        $bar = [[1.0, 1.0, 0.9], [2.76, 0.5, 0.5], [5.4, 0.25, 0.25]];
        $bowl = [[1.0, 1.0, 1.1], [2.71, 0.6, 0.8], [5.15, 0.3, 0.5], [8.4, 0.15, 0.3]];
        $wood = [[1.0, 1.0, 0.12], [2.57, 0.5, 0.06], [4.1, 0.2, 0.04]];

        return [
            'Mortar low' => static fn (): StereoBlock => $d->kick(),
            'Tin snare' => static fn (): StereoBlock => $d->snare(),
            'Tin snare soft' => static fn (): StereoBlock => $v->skin([[182, 0.5, 0.14]], 900, 4200, 0.35, 0.16),
            'Rice shaker' => static fn (): StereoBlock => $d->shaker(),
            'Rice shaker other' => static fn (): StereoBlock => $d->shaker(12),
            'Steam hat' => static fn (): StereoBlock => $d->openHat(),
            'Hands' => static fn (): StereoBlock => $d->clap(),
            'Ladle ring' => static fn (): StereoBlock => $d->ring(),
            'Clay cup' => static fn (): StereoBlock => $v->falling(240, 118, 0.05, 0.35, 0.2, 1.1),
            'Round kick' => static fn (): StereoBlock => $v->falling(190, 50, 0.035, 0.34, 0.35, 1.8),
            'Platform clap' => static fn (): StereoBlock => $v->skin([], 1000, 7500, 1.0, 0.18, 0.004, 41, 0.35),
            'Rail hat' => static fn (): StereoBlock => $v->hat(8200, 0.06),
            'Rail hat other' => static fn (): StereoBlock => $v->hat(8600, 0.055, 0.55, 19),
            'Door hiss' => static fn (): StereoBlock => $v->hat(7400, 0.3, 0.5, 23),
            'Tram bell' => static fn (): StereoBlock => $v->struck(1318.5, [[1.0, 1.0, 0.8], [2.0, 0.4, 0.5], [2.42, 0.4, 0.6], [3.9, 0.2, 0.3]], 0.1),
            'Sleeper knock' => static fn (): StereoBlock => $v->struck(410, $wood, 0.4),
            'Deep drum' => static fn (): StereoBlock => $v->falling(130, 44, 0.06, 1.1, 0.25, 2.0),
            'Gutter snare' => static fn (): StereoBlock => $v->skin([[210, 0.4, 0.09], [331, 0.3, 0.07]], 1800, 9500, 0.9, 0.16, 0.0006, 51),
            'Drip hat' => static fn (): StereoBlock => $v->hat(9000, 0.035, 0.4, 29),
            'Tin roof' => static fn (): StereoBlock => $v->drops(0.8, 26, 900, 4200, 61),
            'Puddle tom' => static fn (): StereoBlock => $v->falling(160, 82, 0.08, 0.5, 0.15, 1.2),
            'Chopping board' => static fn (): StereoBlock => $v->struck(196, [[1.0, 1.0, 0.14], [2.3, 0.5, 0.07]], 0.6, 0.12),
            'Pot lid' => static fn (): StereoBlock => $v->struck(523, $bowl, 0.2, 0.3),
            'Soup bowl' => static fn (): StereoBlock => $v->struck(392, $bowl, 0.1, 0.3),
            'Chopstick' => static fn (): StereoBlock => $v->struck(1460, $wood, 0.3, 0.1),
            'Chopstick other' => static fn (): StereoBlock => $v->struck(1540, $wood, 0.32, 0.1, 9),
            'Noodle drum' => static fn (): StereoBlock => $v->falling(120, 62, 0.03, 0.28, 0.5, 1.3),
            'Anvil' => static fn (): StereoBlock => $v->struck(880, $bar, 0.4, 0.2),
            'Vice snare' => static fn (): StereoBlock => $v->skin([[265, 0.7, 0.1], [612, 0.3, 0.06]], 2200, 11000, 0.7, 0.12, 0.0004, 71, 0.12),
            'Piston' => static fn (): StereoBlock => $v->falling(260, 46, 0.02, 0.26, 0.8, 3.0),
            'Ratchet' => static fn (): StereoBlock => $v->drops(0.12, 6, 2400, 5200, 77),
            'Spark hat' => static fn (): StereoBlock => $v->hat(10500, 0.05, 0.9, 31, 0.0004),
            'Felt kick' => static fn (): StereoBlock => $v->falling(105, 52, 0.05, 0.3, 0.08, 1.05),
            'Brush' => static fn (): StereoBlock => $v->skin([[176, 0.25, 0.1]], 1400, 8000, 0.8, 0.22, 0.014, 81, 0.3),
            'Brush tap' => static fn (): StereoBlock => $v->skin([[181, 0.4, 0.08]], 1800, 9000, 0.5, 0.07, 0.001, 83, 0.3),
            'Paper rustle' => static fn (): StereoBlock => $v->hat(5200, 0.16, 0.1, 37, 0.02),
            'Paper tom' => static fn (): StereoBlock => $v->falling(150, 96, 0.06, 0.4, 0.1, 1.05),
        ];
    }

    /**
     * What each kit puts where: place, role, sounds from soft to hard or in turn, and what is done to them.
     *
     * @return array<string, list<array{int, Role, non-empty-list<string>, array<string, mixed>}>>
     */
    private static function layout(): array
    {
        $darker = new Treatment(filter: new Filter(FilterShape::Low, false, 3200.0, 0.0, strengthCents: 3200.0));
        $short = new Treatment(new Envelope(0.0, 20.0, 60.0, 0.0));
        $played = new Treatment(new Envelope(0.0, 30.0, 240.0, 0.35), filter: new Filter(FilterShape::Low, true, 3400.0, 0.3, strengthCents: 2400.0), lfo1: new Lfo(LfoTarget::Pan, LfoShape::Triangle, 3.0, 0, 30.0));
        $open = ['mode' => PlayMode::OneShot, 'choke' => 1];

        return [
            'Tea stall' => [[0, Role::Kick, ['Mortar low'], []], [1, Role::Snare, ['Tin snare soft', 'Tin snare'], ['answer' => Answer::Strength]], [2, Role::Hat, ['Rice shaker', 'Rice shaker other'], ['answer' => Answer::Turn, 'choke' => 1]], [3, Role::OpenHat, ['Steam hat'], $open], [4, Role::Tom, ['Clay cup'], ['tuneCents' => 300]], [5, Role::Tom, ['Clay cup'], []], [6, Role::Tom, ['Clay cup'], ['tuneCents' => -500]], [8, Role::Clap, ['Hands'], []], [9, Role::Cymbal, ['Ladle ring'], ['treatment' => $darker]], [10, Role::Hat, ['Steam hat'], ['choke' => 1, 'treatment' => $short]]],
            'Tram stop' => [[0, Role::Kick, ['Round kick'], []], [1, Role::Clap, ['Platform clap'], []], [2, Role::Hat, ['Rail hat', 'Rail hat other'], ['answer' => Answer::Fresh, 'choke' => 1]], [3, Role::OpenHat, ['Door hiss'], $open], [4, Role::Percussion, ['Tram bell'], []], [5, Role::Percussion, ['Sleeper knock'], []], [6, Role::Percussion, ['Sleeper knock'], ['tuneCents' => 500]], [8, Role::Tom, ['Puddle tom'], ['tuneCents' => 200]], [9, Role::Tom, ['Puddle tom'], ['tuneCents' => -300]], [10, Role::Snare, ['Tin snare soft', 'Gutter snare', 'Vice snare'], ['answer' => Answer::Strength, 'crossfade' => 12, 'treatment' => $played]]],
            'Rain roof' => [[0, Role::Kick, ['Deep drum'], ['treatment' => new Treatment(pitch: new Sweep(500.0, 0.0, 30.0))]], [1, Role::Snare, ['Tin snare soft', 'Gutter snare'], ['answer' => Answer::Strength, 'crossfade' => 20]], [2, Role::Hat, ['Drip hat'], ['choke' => 1]], [3, Role::OpenHat, ['Door hiss'], $open], [4, Role::Effect, ['Tin roof'], []], [5, Role::Tom, ['Puddle tom'], []], [6, Role::Tom, ['Puddle tom'], ['tuneCents' => -400]], [8, Role::Clap, ['Hands'], []], [9, Role::Cymbal, ['Tram bell'], ['tuneCents' => -500, 'treatment' => $darker]], [10, Role::Percussion, ['Chopstick'], ['tuneCents' => -700]]],
            'Noodle bar' => [[0, Role::Kick, ['Noodle drum'], []], [1, Role::Snare, ['Chopping board'], []], [2, Role::Hat, ['Chopstick', 'Chopstick other'], ['answer' => Answer::Turn]], [3, Role::OpenHat, ['Pot lid'], ['choke' => 1, 'treatment' => new Treatment(filter: new Filter(FilterShape::High, true, 2500.0))]], [4, Role::Percussion, ['Soup bowl'], []], [5, Role::Percussion, ['Soup bowl'], ['tuneCents' => 300]], [6, Role::Percussion, ['Soup bowl'], ['tuneCents' => 700]], [8, Role::Clap, ['Hands'], []], [9, Role::Percussion, ['Sleeper knock'], []], [10, Role::Hat, ['Pot lid'], ['choke' => 1, 'treatment' => $short]]],
            'Repair bench' => [[0, Role::Kick, ['Piston'], []], [1, Role::Snare, ['Vice snare'], ['treatment' => new Treatment(filter: new Filter(driveDb: 9.0))]], [2, Role::Hat, ['Spark hat', 'Drip hat'], ['answer' => Answer::Chance, 'choke' => 1]], [3, Role::OpenHat, ['Door hiss'], $open], [4, Role::Percussion, ['Anvil'], []], [5, Role::Percussion, ['Anvil'], ['tuneCents' => -700]], [6, Role::Effect, ['Ratchet'], []], [8, Role::Clap, ['Platform clap'], []], [9, Role::Cymbal, ['Pot lid'], ['tuneCents' => 1200]], [10, Role::Tom, ['Piston'], ['tuneCents' => 900]]],
            'Paper lanterns' => [[0, Role::Kick, ['Felt kick'], []], [1, Role::Snare, ['Brush tap', 'Brush'], ['answer' => Answer::Strength, 'crossfade' => 30]], [2, Role::Hat, ['Rice shaker', 'Rice shaker other'], ['answer' => Answer::Fresh]], [3, Role::OpenHat, ['Paper rustle'], $open], [4, Role::Tom, ['Paper tom'], ['tuneCents' => 400]], [5, Role::Tom, ['Paper tom'], []], [6, Role::Tom, ['Paper tom'], ['tuneCents' => -500]], [8, Role::Snare, ['Brush'], []], [9, Role::Cymbal, ['Ladle ring'], ['tuneCents' => -1200, 'treatment' => $darker]], [10, Role::Percussion, ['Sleeper knock'], ['tuneCents' => -300, 'treatment' => $darker]]],
        ];
    }

    /**
     * @param array<string, array{hash: string, frames: int, loudness: float}> $samples by name of the sound
     *
     * @return array<string, KitSheet> by name
     */
    public static function kits(array $samples): array
    {
        $kits = [];
        foreach (self::layout() as $name => $places) {
            $pads = [];
            foreach ($places as [$place, $role, $sounds, $settings]) {
                $layers = array_map(static fn (string $sound): Layer => new Layer($sound, $samples[$sound]['hash'], 0, $samples[$sound]['frames']), $sounds);
                $last = $sounds[\count($sounds) - 1];
                // Of soft and hard the hard one gives its name, of several in turn the first.
                $pad = (new Pad('a'.$place, Answer::Strength === ($settings['answer'] ?? null) ? $last : $sounds[0], $role, 'none', $layers))->with(['levelDb' => round(max(-24.0, min(12.0, (self::LOUDNESS[$role->value] ?? -20.0) - $samples[$last]['loudness'])), 1), ...array_diff_key($settings, ['answer' => 1])]);
                $answer = $settings['answer'] ?? null;
                $pads[$pad->id] = $answer instanceof Answer ? $pad->with(['answer' => $answer]) : $pad;
            }
            $kits[$name] = new KitSheet($name, ['Stall'], $pads);
        }

        return $kits;
    }

    /** RMS of the loudest stretch of a sound, in dB. */
    public static function loudness(StereoBlock $sound, int $rate): float
    {
        $frames = (int) (self::LOUDEST_SECONDS * $rate);
        $loudest = 0.0;
        for ($at = 0; $at < max(1, $sound->frames() - intdiv($frames, 2)); $at += intdiv($frames, 2)) {
            $part = $sound->slice($at, $frames);
            $power = 0.0;
            foreach ($part->left as $i => $x) {
                $power += $x * $x + $part->right[$i] ** 2;
            }
            $loudest = max($loudest, $power / 2 / $frames);
        }

        return Decibels::fromGain(sqrt($loudest));
    }
}
