<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Theory\Key;

/** What it takes for a loop to fit a beat: its tempo, whole bars and its key, and the words for it. */
final readonly class Fit
{
    private const LEAST_PERCENT = 50.0;
    private const MOST_PERCENT = 200.0;

    /**
     * @param list<Edit>  $edits what to add
     * @param string      $words what that does
     * @param string|null $snag  why it can't be done
     */
    private function __construct(public array $edits, public string $words, public ?string $snag = null)
    {
    }

    /**
     * At the beat's tempo, half or double where that is nearer.
     *
     * @param float    $bpm   of the loop
     * @param int|null $bars  when the loop is a whole number of bars long
     * @param int      $times 1 for the nearest; 2 for half-time, -2 for double-time beside it
     */
    public static function tempo(float $bpm, float $beatBpm, int $frames, int $rate, ?int $bars, int $times = 1): self
    {
        $played = $bpm;
        while ($played / $beatBpm > \M_SQRT2) {
            $played /= 2.0;
        }
        while ($played / $beatBpm < \M_SQRT1_2) {
            $played *= 2.0;
        }
        $ratio = $played / $beatBpm * (2 === $times ? 2.0 : (-2 === $times ? 0.5 : 1.0));
        // A loop that is nearly a whole number of bars becomes exactly that.
        $now = $frames / $rate * $ratio * $beatBpm / 240.0;
        if (null !== $bars && $now > 0.4) {
            $whole = $now > 0.75 ? round($now) : 0.5;
            $ratio *= $whole / $now;
            $now = $whole;
        }
        $percent = 100.0 * $ratio;
        if (null !== $snag = self::snag($percent)) {
            return $snag;
        }
        $length = null === $bars ? \sprintf('%.2f s', $frames / $rate * $ratio) : \sprintf('%s %s', round($now, 2), 1.0 === $now ? 'bar' : 'bars');
        $words = \sprintf('%s → %s BPM, now %s long', self::bpm($bpm), self::bpm($beatBpm), $length);

        return abs($percent - 100.0) < 0.01
            ? new self([], \sprintf('Fits as it is: %s BPM, %s', self::bpm($beatBpm), $length))
            : new self([self::stretch($percent)], $words);
    }

    /** To be exactly so many bars long at the beat's tempo. */
    public static function bars(int $bars, float $beatBpm, int $frames, int $rate): self
    {
        $percent = 100.0 * $bars * 240.0 / $beatBpm / ($frames / $rate);

        return self::snag($percent) ?? new self([self::stretch($percent)], \sprintf('Now %d %s at %s BPM', $bars, 1 === $bars ? 'bar' : 'bars', self::bpm($beatBpm)));
    }

    /** From one key into another, the shorter way or the other; between major and minor by the related key. */
    public static function key(Key $from, Key $to, bool $shorter = true): self
    {
        $tonic = $from->minor === $to->minor ? $from->tonic : $from->tonic + ($from->minor ? 3 : 9);
        $up = (($to->tonic - $tonic) % 12 + 12) % 12;
        if (0 === $up) {
            return new self([], \sprintf('Fits as it is: %s', $from->name()));
        }
        $way = ($up <= 6) === $shorter ? $up : $up - 12;

        return new self(
            [new Edit(EditKind::Pitch, null, null, ['cents' => 100.0 * $way])],
            \sprintf('%s → %s, %s %d %s', $from->name(), $to->name(), $way > 0 ? 'up' : 'down', abs($way), 1 === abs($way) ? 'semitone' : 'semitones'),
        );
    }

    /** To the nearest of some notes. */
    public static function note(float $note, int ...$chord): self
    {
        $best = null;
        foreach ($chord as $class) {
            $apart = fmod(fmod($class - $note, 12.0) + 18.0, 12.0) - 6.0;
            if (null === $best || abs($apart) < abs($best)) {
                $best = $apart;
            }
        }
        $best ??= 0.0;
        $name = Key::TONICS[((int) round($note + $best) % 12 + 12) % 12];
        if (abs($best) < 0.08) {
            return new self([], \sprintf('Fits as it is: %s is in the chord', $name));
        }

        return new self([new Edit(EditKind::Pitch, null, null, ['cents' => round(100.0 * $best, 1)])], \sprintf('Tuned %s %.2f semitones to %s', $best > 0 ? 'up' : 'down', abs($best), $name));
    }

    public function and(self $other): self
    {
        return new self([...$this->edits, ...$other->edits], implode('; ', array_filter([$this->words, $other->words])), $this->snag ?? $other->snag);
    }

    private static function stretch(float $percent): Edit
    {
        return new Edit(EditKind::Stretch, null, null, ['percent' => max(self::LEAST_PERCENT, min(self::MOST_PERCENT, $percent))]);
    }

    private static function snag(float $percent): ?self
    {
        // Half and double are wanted often, and a loop is seldom cut to the frame.
        return $percent > 0.995 * self::LEAST_PERCENT && $percent < 1.005 * self::MOST_PERCENT
            ? null
            : new self([], '', \sprintf('That would be %.0f %% of its length; stretching goes from 50 to 200 %%.', $percent));
    }

    private static function bpm(float $bpm): string
    {
        return (string) round($bpm, 1);
    }
}
