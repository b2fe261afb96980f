<?php

namespace Pestle\Core\Analysis;

/**
 * How well a recording repeats itself some time later, as if it were a loop: overall, in its lows, middle and highs,
 * and in its snares and its kicks alone.
 * Source: autocorrelation tempogram after P. Grosche and M. Müller, "Extracting predominant local pulse information
 * from music recordings" (IEEE TASLP 2011).
 */
final class Repetition
{
    private const BACKBEAT = [HitKind::Snare, HitKind::Clap, HitKind::Rim];
    /** @var array<string, list<float>> */
    private array $trains;
    /** @var array<string, float> */
    private array $energies = [];
    /** @var array<string, array<int, float>> what was asked for, by frames */
    private array $known = [];
    /** @var array{hits: float, snare: float, kick: float} how many there are */
    public readonly array $numbers;
    /** Frame of the last hit. */
    public readonly int $last;

    /** @param list<Hit> $hits */
    public function __construct(OnsetStrength $strength, array $hits)
    {
        $count = min(\count($strength->all), (int) (OnsetStrength::BANDS_SECONDS * $strength->framesASecond()));
        $trains = ['all' => $strength->all, 'low' => $strength->low, 'mid' => $strength->mid, 'high' => $strength->high, 'snare' => array_fill(0, $count, 0.0), 'kick' => array_fill(0, $count, 0.0)];
        $numbers = ['hits' => 0.0, 'snare' => 0.0, 'kick' => 0.0];
        $last = 0;
        foreach ($hits as $hit) {
            $at = (int) round($hit->frame / $strength->hop);
            $kind = HitKind::Kick === $hit->kind ? 'kick' : (\in_array($hit->kind, self::BACKBEAT, true) ? 'snare' : null);
            if ($at < $count) {
                ++$numbers['hits'];
                $last = $at;
                if (null !== $kind) {
                    $trains[$kind][$at] = 1.0;
                    ++$numbers[$kind];
                }
            }
        }
        foreach ($trains as $name => $train) {
            $this->trains[$name] = self::smoothed(\array_slice($train, 0, $count), 'all' === $name ? 10.0 : 1.0);
            $this->energies[$name] = 1e-9 + array_sum(array_map(static fn (float $v): float => $v * $v, $this->trains[$name]));
        }
        $this->numbers = $numbers;
        $this->last = $last;
    }

    /**
     * @param string $name  all, low, mid, high, snare or kick
     * @param float  $later frames of the onset strength
     *
     * @return float 1 where it is the same, 0 where it has nothing to do with it
     */
    public function after(string $name, float $later): float
    {
        $whole = (int) $later;
        $part = $later - $whole;

        return $this->at($name, $whole) * (1.0 - $part) + $this->at($name, $whole + 1) * $part;
    }

    private function at(string $name, int $lag): float
    {
        return $this->known[$name][$lag] ??= self::product($this->trains[$name], $lag) / $this->energies[$name];
    }

    /** @param list<float> $x what runs out at its end goes on at its start */
    private static function product(array $x, int $lag): float
    {
        $n = \count($x);
        $k = $lag % max(1, $n);
        $inside = $n - $k;
        $sum = 0.0;
        for ($i = 0; $i < $inside; ++$i) {
            $sum = $x[$i] * $x[$i + $k] + $sum;
        }
        for (; $i < $n; ++$i) {
            $sum = $x[$i] * $x[$i - $inside] + $sum;
        }

        return $sum;
    }

    /**
     * @param list<float> $train
     *
     * @return list<float> compressed, a little blurred, and without its mean
     */
    private static function smoothed(array $train, float $compression): array
    {
        $y = array_map(static fn (float $v): float => log(1.0 + $compression * $v), $train);
        $out = [];
        foreach ($y as $i => $v) {
            $out[] = 3.0 * $v + 2.0 * (($y[$i - 1] ?? 0.0) + ($y[$i + 1] ?? 0.0)) + ($y[$i - 2] ?? 0.0) + ($y[$i + 2] ?? 0.0);
        }
        $mean = array_sum($out) / max(1, \count($out));

        return array_map(static fn (float $v): float => $v - $mean, $out);
    }
}
