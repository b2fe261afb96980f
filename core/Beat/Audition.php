<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Beat\Change\ExchangeKit;
use Pestle\Core\Beat\Change\SetTempo;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\EqSlope;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Mix\StereoSettings;
use Pestle\Core\Song\Movement;
use Pestle\Core\Theory\Tempo;

/**
 * A beat as it is heard for a moment, to compare or to listen into it; nothing of it is stored. "mix/ID" is with a mix that
 * was kept, "unmastered" without what the master does, "mono" with both sides together, "band/LINE/INSERT/N" only what a band of an equalizer takes hold of, "sound/PART/NAME" with another
 * sound under a part's notes, "sound/PART/AT/NAME" in place of one of its stack, "alone/PART/AT" with one of its stack alone, "stacked/PART/NAME" with one more,
 * "exchanged/PART/FROM" with a part played on what another one is, "tempo/BPM" all along at another tempo.
 */
final class Audition
{
    /** Ceiling where nothing is to be held down. */
    private const OPEN_DB = 0.0;

    /** @throws InvalidChange */
    public static function of(Beat $beat, string $hear): Beat
    {
        [$how, $id, $insert, $band] = [...explode('/', $hear), '', '', '', ''];

        return match ($how) {
            '' => $beat,
            'mix' => $beat->withMixer($beat->snapshot($id)->onto($beat->mixer)),
            'unmastered' => $beat->withMixer(self::unmastered($beat->mixer)),
            'mono' => $beat->withMixer($beat->mixer->withMaster($beat->mixer->master->followedBy(new StereoSettings('i0', true, 0.0)))),
            'sound' => self::sound($beat, $id, \array_slice(explode('/', $hear), 2)),
            'exchanged' => ExchangeKit::from(new Fields(['part' => $id, 'from' => $insert]))->apply($beat),
            'stacked' => self::keys($beat, $id, static fn (Keys $keys): Keys => $keys->withAnother(OtherSound::named(implode('/', \array_slice(explode('/', $hear), 2)))->over($keys))),
            'alone' => self::keys($beat, $id, static fn (Keys $keys): Keys => $keys->alone((int) $insert)->withInner('blend', $keys->alone((int) $insert)->blend->with(['silent' => false]))),
            'tempo' => self::tempo($beat, $id),
            'band' => $beat->withMixer(self::band($beat, $id, $insert, (int) $band)),
            default => throw InvalidChange::field('hear', 'must be mix/ID, unmastered, mono, sound/PART/NAME, alone/PART/AT, stacked/PART/NAME, exchanged/PART/FROM, tempo/BPM or band/LINE/INSERT/NUMBER.'),
        };
    }

    /** @param list<string> $name of the sound, after its place in the stack where it has one */
    private static function sound(Beat $beat, string $id, array $name): Beat
    {
        $at = ctype_digit($name[0] ?? '') ? (int) array_shift($name) : 0;

        return self::keys($beat, $id, static fn (Keys $keys): Keys => $keys->withAt($at, OtherSound::named(implode('/', $name))->for($keys->at($at) ?? $keys)));
    }

    /** As it is with somebody else's clock: one tempo all along, and what follows the tempo follows. */
    private static function tempo(Beat $beat, string $bpm): Beat
    {
        $tempo = is_numeric($bpm) && (float) $bpm >= Tempo::SLOWEST && (float) $bpm <= Tempo::MAX ? Tempo::bpm((float) $bpm) : throw InvalidChange::field('tempo', \sprintf('must lie between %d and %d BPM.', Tempo::SLOWEST, Tempo::MAX));

        return SetTempo::to($beat->with(['movements' => $beat->movements->only(static fn (Movement $m): bool => Movement::TEMPO !== $m->path)]), $tempo);
    }

    /** @param \Closure(Keys): Keys $heard */
    private static function keys(Beat $beat, string $id, \Closure $heard): Beat
    {
        $part = $beat->part($id);

        try {
            return null === $part->keys ? $beat : $beat->withPart($part->with(['keys' => $heard($part->keys)]));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    private static function unmastered(Mixer $mixer): Mixer
    {
        $off = static fn (InsertSettings $i): InsertSettings => $i->with(['on' => false]);

        return $mixer->withMaster($mixer->master->with(['inserts' => array_map($off, $mixer->master->inserts), 'gainDb' => 0.0, 'fader' => FaderPlace::After, 'ceilingDb' => self::OPEN_DB]));
    }

    private static function band(Beat $beat, string $id, string $insert, int $number): Mixer
    {
        $line = $beat->line($id);
        $eq = $line->insert($insert);
        $band = $eq instanceof EqualizerSettings ? $eq->bands[$number - 1] ?? null : null;
        if (!$eq instanceof EqualizerSettings || null === $band) {
            throw new InvalidChange('This band is no longer there.');
        }
        $line = $line->withInsert($eq->with(['on' => true, 'mix' => 100.0, 'bands' => self::edges($band)]));

        // What feeds a return must go on sounding: it is heard among the rest.
        return $beat->mixer->withLine($line instanceof Node ? $line->with(['solo' => NodeKind::Return !== $line->kind, 'mute' => false]) : $line);
    }

    /** @return list<EqBand> cuts that leave what a band takes hold of; of a cut what it takes away */
    private static function edges(EqBand $band): array
    {
        $pass = static fn (EqShape $shape, float $hz): EqBand => new EqBand($shape, max(20.0, min(20000.0, $hz)), 0.0, 0.71, true, EqSlope::TwentyFour);
        // Half the width of a bell in octaves (R. Bristow-Johnson, "Audio EQ cookbook").
        $octaves = asinh(0.5 / $band->q) / log(2.0);

        return match ($band->shape) {
            EqShape::LowShelf, EqShape::HighPass => [$pass(EqShape::LowPass, $band->hz)],
            EqShape::HighShelf, EqShape::LowPass => [$pass(EqShape::HighPass, $band->hz)],
            EqShape::Peak => [$pass(EqShape::HighPass, $band->hz * 2.0 ** -$octaves), $pass(EqShape::LowPass, $band->hz * 2.0 ** $octaves)],
        };
    }
}
