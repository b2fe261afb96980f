<?php

namespace Pestle\App\Page;

use Pestle\Core\Mix\ChorusSettings;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\DelaySettings;
use Pestle\Core\Mix\DuckerSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\FilterSettings;
use Pestle\Core\Mix\GateSettings;
use Pestle\Core\Mix\HarmonicsSettings;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\LimiterSettings;
use Pestle\Core\Mix\NoteLength;
use Pestle\Core\Mix\OldConverterSettings;
use Pestle\Core\Mix\PhaserSettings;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Core\Mix\SaturationSettings;
use Pestle\Core\Mix\StereoSettings;
use Pestle\Core\Mix\SweptShape;
use Pestle\Core\Mix\TransientsSettings;
use Pestle\Core\Mix\TremoloSettings;

/** What an insert does, in a few words. */
final class InsertWords
{
    public static function of(InsertSettings $i): string
    {
        return match (true) {
            !$i->acts() => 'at rest',
            $i instanceof EqualizerSettings => implode(', ', \array_slice(array_map(self::band(...), array_values(array_filter($i->bands, static fn (EqBand $b): bool => $b->isActive()))), 0, 2)),
            $i instanceof CompressorSettings => \sprintf('%s:1 from %s dB', round($i->ratio, 1), round($i->thresholdDb, 1)),
            $i instanceof GateSettings => \sprintf('opens above %s dB', round($i->thresholdDb, 1)),
            $i instanceof LimiterSettings => \sprintf('nothing above %s dB', round($i->ceilingDb, 1)),
            $i instanceof DuckerSettings => \sprintf('back by %s dB', round($i->depthDb, 1)),
            $i instanceof TransientsSettings => \sprintf('attacks %+d, tails %+d', $i->attack, $i->sustain),
            $i instanceof SaturationSettings => \sprintf('%s, %s dB', $i->curve->value, round($i->driveDb, 1)),
            $i instanceof HarmonicsSettings => \sprintf('of the %s, %s dB', $i->style->value, round($i->addedDb, 1)),
            $i instanceof OldConverterSettings => \sprintf('%s bits, %s', round($i->bits, 1), self::hz($i->rateHz)),
            $i instanceof FilterSettings => $i->shape->value.(SweptShape::Formant === $i->shape ? ' '.str_split('aeiou')[(int) round($i->vowel)] : ' '.self::hz($i->cutoffHz)),
            $i instanceof ChorusSettings => $i->style->value.', '.self::rate($i->time, $i->rateHz, $i->sixteenths),
            $i instanceof PhaserSettings => self::rate($i->time, $i->rateHz, $i->sixteenths),
            $i instanceof TremoloSettings => $i->style->value.', '.('ring' === $i->style->value ? self::hz($i->ringHz) : self::rate($i->time, $i->rateHz, $i->sixteenths)),
            $i instanceof DelaySettings => ($i->time->isFree() ? round($i->ms).' ms' : self::sixteenths($i->time, $i->sixteenths)).', '.round($i->mix).' %',
            $i instanceof ReverbSettings => \sprintf('%s s, %d %%', round($i->decay, 1), $i->mix),
            $i instanceof StereoSettings => \sprintf('%d %% wide', $i->width),
            default => '',
        };
    }

    private static function band(EqBand $band): string
    {
        return $band->shape->isPass() ? lcfirst($band->shape->label()).' '.self::hz($band->hz) : \sprintf('%+.1f dB at %s', $band->gainDb, self::hz($band->hz));
    }

    private static function hz(float $hz): string
    {
        return $hz >= 1000 ? round($hz / 1000, 1).' kHz' : round($hz).' Hz';
    }

    private static function rate(NoteLength $time, float $hz, int $sixteenths): string
    {
        return $time->isFree() ? round($hz, 2).' Hz' : 'every '.self::sixteenths($time, $sixteenths);
    }

    private static function sixteenths(NoteLength $time, int $count): string
    {
        return $count.'/16'.(NoteLength::Straight === $time ? '' : ' '.$time->value);
    }
}
