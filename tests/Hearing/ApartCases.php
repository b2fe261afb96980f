<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Apart\Cues;
use Pestle\Core\Apart\Spectra;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;

/** Cues of a song whose parts are known, and which part owns how much of each band, beside it as 32-bit floats. */
final class ApartCases
{
    /** @param string $truth path of a song's .json file */
    public static function keep(string $truth): void
    {
        /** @var array{parts: non-empty-array<string, string>} $known */
        $known = json_decode((string) file_get_contents($truth), true, 8, \JSON_THROW_ON_ERROR);
        $sources = array_map(SoundFile::open(...), $known['parts']);
        $mix = new Spectra(self::mix($sources));
        $count = $mix->count();
        $cues = (new Cues($mix))->between(0, $count);
        $parts = array_map(static fn (AudioSource $s): Spectra => new Spectra($s), $sources);
        $bands = $mix->bands;
        $power = $own = $whole = [];
        foreach ($mix->between(0, $count) as $t => $spectrum) {
            [$lr, $li, $rr, $ri] = $whole[$t] = $spectrum;
            $all = [];
            foreach ($lr as $k => $a) {
                $all[] = $a * $a + $li[$k] ** 2 + $rr[$k] ** 2 + $ri[$k] ** 2;
            }
            $power[$t] = $bands->sums($all);
        }
        foreach ($parts as $name => $part) {
            foreach ($part->between(0, $count) as $t => [$lr, $li, $rr, $ri]) {
                [$mlr, $mli, $mrr, $mri] = $whole[$t];
                $with = [];
                foreach ($lr as $k => $a) {
                    $with[] = $a * $mlr[$k] + $li[$k] * $mli[$k] + $rr[$k] * $mrr[$k] + $ri[$k] * $mri[$k];
                }
                $own[$t][$name] = $bands->sums($with);
            }
        }
        $file = fopen(substr($truth, 0, -4).'cues.part', 'w');
        \is_resource($file) || throw new \RuntimeException($truth.' has no room beside it.');
        fwrite($file, pack('V', $count));
        foreach ($cues as $row) {
            fwrite($file, pack('g*', ...$row));
        }
        foreach ($power as $t => $all) {
            fwrite($file, pack('g*', ...self::shares($all, $own[$t] ?? [])));
        }
        $mean = array_sum(array_map(array_sum(...), $power)) / $count / Cues::PER_BAND;
        foreach ($power as $all) {
            fwrite($file, pack('g*', ...array_map(static fn (float $p): float => $p / ($mean + 1e-15), $all)));
        }
        fclose($file);
        rename(substr($truth, 0, -4).'cues.part', substr($truth, 0, -4).'cues');
    }

    /**
     * @param list<float>                $power of each band
     * @param array<string, list<float>> $of    of each part, what it has in common with the whole there
     *
     * @return list<float> best shares of the power by least squares, between 0 and 1 and together 1
     */
    private static function shares(array $power, array $of): array
    {
        $out = [];
        $n = \count($power);
        foreach ($power as $b => $p) {
            $own = [];
            foreach (Songs::PARTS as $i => $name) {
                $own[$i] = max(1e-4, min(1.0, ($of[$name][$b] ?? 0.0) / ($p + 1e-15)));
            }
            $sum = array_sum($own);
            foreach ($own as $i => $share) {
                $out[$i * $n + $b] = $share / $sum;
            }
        }
        ksort($out);

        return array_values($out);
    }

    /** @param non-empty-array<string, AudioSource> $sources */
    public static function mix(array $sources): MemorySource
    {
        [$left, $right] = [[], []];
        foreach ($sources as $source) {
            $block = $source->read(0, $source->frames());
            foreach ($block->left as $i => $x) {
                $left[$i] = ($left[$i] ?? 0.0) + $x;
                $right[$i] = ($right[$i] ?? 0.0) + $block->right[$i];
            }
        }

        return new MemorySource(new StereoBlock(array_values($left), array_values($right)), $sources[array_key_first($sources)]->sampleRate());
    }
}
