<?php

namespace Pestle\Core\Analysis;

/**
 * What speaks for each note that may begin, go on or be absent at a place: its harmonics behind the place and how far they rose
 * there, how strong it is beside its relatives that share them, what is left of it when stronger notes are taken out, and
 * whether one period explains all that sounds. The notes that are likely at all come with these numbers, for a network to weigh.
 */
final readonly class NoteCues
{
    /** How many notes are looked at: the strongest, and those found one after the other. */
    private const CANDIDATES = 16;
    private const FOUND = 6;
    private const HARMONICS = 8;
    /** Semitones to the notes that share harmonics with one. */
    private const RELATIVES = [-31, -28, -24, -19, -12, -7, -5, 5, 7, 12, 19, 24, 28];
    /** Semitones at which the spectrum around it is looked at. */
    private const AROUND = [-12, -2, -1, 1, 2];
    private const COMPRESSION = 200.0;

    /** @param float $singleShare for how much of the time one period explains all that sounds */
    public function __construct(private Pitches $short, private float $singleShare)
    {
    }

    /**
     * @param Pitches                  $pitches those that $after was taken with
     * @param list<float>              $after   magnitudes behind the place's stroke
     * @param list<float>              $before  of a short stretch before the place
     * @param list<float>              $behind  and of one just behind it
     * @param array{float, float}|null $period  semitones less the tuning and how sure, as if one note sounded
     * @param list<float>              $facts   of the place itself
     *
     * @return array<int, list<float>> by note
     */
    public function at(Pitches $pitches, array $after, array $before, array $behind, ?array $period, array $facts): array
    {
        $flat = $pitches->flattened($after);
        $strengths = $pitches->strengths($flat);
        $most = max(1e-12, ...array_values($strengths));
        $earlier = $this->short->strengths($this->short->flattened($before));
        $later = $this->short->strengths($this->short->flattened($behind));
        $laterMost = max(1e-12, ...array_values($later), ...array_values($earlier));
        $found = $pitches->taken($flat, self::FOUND);
        $sorted = $strengths;
        arsort($sorted);
        $top = max(1e-12, ...$after);
        $shortTop = max(1e-12, ...$before, ...$behind);
        $out = [];
        foreach (array_unique([...array_keys($found), ...array_keys(\array_slice($sorted, 0, self::CANDIDATES, true))]) as $note) {
            $now = self::logs($pitches->tops($after, $note, self::HARMONICS), $top);
            $rises = array_map(static fn (float $a, float $b): float => $a - $b, self::logs($this->short->tops($behind, $note, self::HARMONICS), $shortTop), self::logs($this->short->tops($before, $note, self::HARMONICS), $shortTop));
            $features = [...$now, ...$rises, array_sum($rises), $rises[0] + $rises[2] + $rises[4]];
            foreach (self::RELATIVES as $apart) {
                $features[] = isset($strengths[$note + $apart]) ? log(($strengths[$note + $apart] + 0.02 * $most) / ($strengths[$note] + 0.02 * $most)) : -1.0;
            }
            foreach (self::AROUND as $apart) {
                $features[] = self::logs($pitches->tops($after, $note + $apart, 1), $top)[0] - $now[0];
            }
            $rank = array_search($note, array_keys($found), true);
            $is = null === $period ? 0.0 : (abs($period[0] - $note) < 0.5 ? $period[1] : -$period[1]);
            array_push(
                $features,
                $strengths[$note] / $most,
                log(($later[$note] + 0.02 * $laterMost) / ($earlier[$note] + 0.02 * $laterMost)),
                ($found[$note] ?? 0.0) / $most,
                false === $rank ? 0.0 : 1.0 / (1.0 + $rank),
                $is,
                $is * $this->singleShare,
                $this->singleShare,
                ($note - 60) / 12.0,
                ...$facts,
            );
            $out[$note] = array_values($features);
        }

        return $out;
    }

    /**
     * @param non-empty-list<float> $magnitudes
     *
     * @return non-empty-list<float> compressed, against the largest that there is
     */
    private static function logs(array $magnitudes, float $largest): array
    {
        return array_map(static fn (float $m): float => log(1.0 + self::COMPRESSION * $m / $largest), $magnitudes);
    }
}
