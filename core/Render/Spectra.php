<?php

namespace Pestle\Core\Render;

use Pestle\Core\Analysis\BandLevels;
use Pestle\Core\Analysis\Masking;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Signal\Decibels;

/** How much of lines of the mixer lies in which band, behind their faders, segment by segment; and who covers whom. */
final class Spectra
{
    /** What is covered by less is not told. */
    private const TOLD = 0.3;
    private const MOST_PAIRS = 6;
    /** Power of a band from which on a line sounds. */
    private const SOUNDS = 1e-7;
    private const FLOOR_DB = -100.0;

    private readonly BandLevels $bands;
    /** @var array<string, array<int, list<float>|null>> powers by line and segment; null for silence */
    private array $lines;

    /** @param list<string> $lines ids of those that are wanted */
    public function __construct(private readonly Beat $beat, array $lines)
    {
        $this->bands = new BandLevels((float) Beat::SAMPLE_RATE);
        $this->lines = array_fill_keys(array_filter($lines, static fn (string $id): bool => null !== $beat->mixer->line($id)), []);
    }

    /** @return list<string> channels that are heard */
    public static function channels(Beat $beat): array
    {
        return array_map(strval(...), array_keys(array_filter($beat->mixer->of(NodeKind::Channel), $beat->mixer->isHeard(...))));
    }

    /** Of a segment that comes again, the last counts. */
    public function add(Moment $moment): void
    {
        foreach (array_keys($this->lines) as $id) {
            $rendered = Master::ID === $id ? $moment->mix : $moment->levels[$id] ?? null;
            $this->lines[$id][$moment->segment->index] = null === $rendered || $rendered->isSilent() ? null : $this->powers((string) $id, $rendered->block());
        }
    }

    /** @return list<float> */
    private function powers(string $id, StereoBlock $block): array
    {
        $gain = Decibels::toGain($this->beat->mixer->nodes[$id]->gainDb ?? 0.0) ** 2;

        return array_map(static fn (float $power): float => $power * $gain, $this->bands->of($block));
    }

    /** @return array<string, array{mean: string, segments: list<string>}> by line: on the whole while it sounds, and segment by segment; a byte for every band, 0 for -100 dB to 255 for +2 dB, "" for silence */
    public function drawn(): array
    {
        $drawn = [];
        foreach ($this->lines as $id => $segments) {
            ksort($segments);
            $sounding = array_filter($segments, static fn (?array $powers): bool => null !== $powers && max([0.0, ...$powers]) > self::SOUNDS);
            $mean = [] === $sounding ? null : array_map(static fn (float ...$powers): float => array_sum($powers) / \count($powers), ...array_values($sounding));
            $drawn[$id] = ['mean' => self::bytes($mean), 'segments' => array_values(array_map(self::bytes(...), $segments))];
        }

        return $drawn;
    }

    /** @param array<float>|null $powers */
    private static function bytes(?array $powers): string
    {
        return implode('', array_map(static fn (float $p): string => \chr((int) max(0, min(255, round(2.5 * (10.0 * log10(max($p, 1e-12)) - self::FLOOR_DB))))), $powers ?? []));
    }

    /** @return list<array{line: string, by: string, share: float, from: float, to: float, hz: float}> who is covered by whom, how much of it, and between which frequencies most of that lies; the worst first */
    public function covered(): array
    {
        $masking = new Masking();
        $pairs = [];
        $none = array_fill(0, BandLevels::BANDS, 0.0);
        $all = array_map(static fn (array $segments): array => array_values(array_map(static fn (?array $p): array => $p ?? $none, $segments)), $this->lines);
        foreach ($all as $id => $sound) {
            foreach ($all as $by => $masker) {
                if ($id === $by) {
                    continue;
                }
                [$share, $bands] = $masking->covered($sound, $masker);
                if ($share >= self::TOLD) {
                    $pairs[] = ['line' => (string) $id, 'by' => (string) $by, 'share' => round($share, 2), ...self::around($bands)];
                }
            }
        }
        usort($pairs, static fn (array $a, array $b): int => $b['share'] <=> $a['share']);

        return \array_slice($pairs, 0, self::MOST_PAIRS);
    }

    /**
     * The stretch around the band where most is covered, as far as it is half of that.
     *
     * @param list<float> $bands
     *
     * @return array{from: float, to: float, hz: float}
     */
    private static function around(array $bands): array
    {
        $most = max([0.0, ...$bands]);
        $at = $low = $high = (int) array_search($most, $bands, true);
        while ($low > 0 && $bands[$low - 1] > 0.5 * $most) {
            --$low;
        }
        while ($high < \count($bands) - 1 && $bands[$high + 1] > 0.5 * $most) {
            ++$high;
        }

        return ['from' => round(BandLevels::hz($low)), 'to' => round(BandLevels::hz($high)), 'hz' => round(BandLevels::hz($at))];
    }
}
