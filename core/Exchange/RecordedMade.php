<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Synth\MadeNote;
use Pestle\Core\Synth\MadeSounds;

/**
 * A made instrument as recorded notes, for formats that know no waves: every few semitones one, at several strengths where it answers
 * them, going round where it lasts. Its shape, tone and movement are not in them: those are carried as settings.
 */
final class RecordedMade
{
    /** Semitones from note to note, and the keys they are made for. */
    private const APART = 4;
    private const LOWEST = 24;
    private const HIGHEST = 100;
    private const STRENGTHS = [48, 92, 127];
    private const SECONDS = 6.0;
    /** Where what lasts goes round, and over how long its end becomes what comes before that. */
    private const LOOP_SECONDS = 2.0;
    private const JOIN_SECONDS = 0.5;

    /**
     * @param string $folder where the notes are written, as WAVs
     *
     * @return array{KitSheet, array<string, string>, array<string, string>} the sheet without waves, and of each note its file and its name, by what the sheet calls it
     */
    public static function of(KitSheet $sheet, string $folder): array
    {
        if (null === $sheet->keys) {
            return [$sheet, [], []];
        }
        $all = $files = $names = [];
        foreach ($sheet->keys->all() as $i => $keys) {
            [$all[], $own, $called] = self::one($keys, 0 === $i ? $sheet->name : $sheet->name.' '.($i + 1), $folder);
            [$files, $names] = [$files + $own, $names + $called];
        }
        $keys = array_shift($all);

        return [new KitSheet($sheet->name, $sheet->banks, $sheet->pads, $keys->with(['stack' => $all]), $sheet->whole, $sheet->edits), $files, $names];
    }

    /** @return array{Keys, array<string, string>, array<string, string>} */
    private static function one(Keys $keys, string $called, string $folder): array
    {
        $zones = $files = $names = [];
        $sounds = new MadeSounds();
        [$low, $high] = [max(self::LOWEST, $keys->low), min(self::HIGHEST, $keys->high)];
        $strengths = [] === array_filter($keys->waves, static fn (Wave $w): bool => $w->strength > 0.0) ? [127] : self::STRENGTHS;
        for ($pitch = $low; $pitch <= $high && [] !== $keys->waves; $pitch += self::APART) {
            foreach ($strengths as $i => $strength) {
                $name = \sprintf('%s %d%s', $called, $pitch, 1 === \count($strengths) ? '' : ' '.$strength);
                $hash = hash('sha256', $name.serialize($keys->waves));
                $files[$hash] = $folder.'/'.$hash.'.wav';
                $names[$hash] = $name;
                $sound = self::write(new MadeNote($keys->waves, $pitch, $strength), $keys, $sounds, $files[$hash], $name, $hash);
                // A treatment of the strength is in the settings: what is recorded at it is as loud as it was made.
                $zones[] = new Zone($sound->with(['low' => 1 + ($strengths[$i - 1] ?? 0), 'high' => $strength]), 100 * $pitch, $pitch === $low ? $keys->low : $pitch - 1, $pitch + self::APART > $high ? $keys->high : $pitch + self::APART - 2);
            }
        }

        return [$keys->with(['zones' => [...$keys->zones, ...$zones], 'waves' => [], 'stack' => []]), $files, $names];
    }

    private static function write(MadeNote $note, Keys $keys, MadeSounds $sounds, string $path, string $name, string $hash): Layer
    {
        $frames = (int) (self::SECONDS * Beat::SAMPLE_RATE);
        $block = $sounds->read($note, 0, $frames);
        $lasts = [] !== array_filter($keys->waves, static fn (Wave $w): bool => WaveActs::Sounds === $w->acts && !$w->kind->isStruck() && 0.0 === $w->decayMs);
        $start = (int) (self::LOOP_SECONDS * Beat::SAMPLE_RATE);
        if ($lasts) {
            $block = new StereoBlock(self::joined($block->left, $start), self::joined($block->right, $start));
        }
        $writer = new WavWriter($path, Beat::SAMPLE_RATE, SampleFormat::Float32);
        $writer->write($block);
        $writer->close();
        $layer = new Layer($name, $hash, 0, $frames);

        return $lasts ? $layer->with(['loopStart' => $start, 'loopEnd' => $frames]) : $layer;
    }

    /**
     * Towards its end it becomes what comes before the place where it goes on.
     *
     * @param list<float> $sound
     *
     * @return list<float>
     */
    private static function joined(array $sound, int $start): array
    {
        $frames = \count($sound);
        $join = (int) (self::JOIN_SECONDS * Beat::SAMPLE_RATE);
        for ($i = 0; $i < $join; ++$i) {
            $share = ($i + 1.0) / $join;
            $at = $frames - $join + $i;
            $sound[$at] = sqrt(1.0 - $share) * $sound[$at] + sqrt($share) * $sound[$start - $join + $i];
        }

        return array_values($sound);
    }
}
