<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Tuning;

/** What it takes for a loop to fit a beat: its tempo, whole bars and its key, and the words for it. */
final readonly class Fit
{
    private const LEAST_PERCENT = 50.0;
    private const MOST_PERCENT = 200.0;
    private const NEARLY = 0.02;
    private const MOST_EDITS = 10;
    /** A beat this near to the straight way between others needs no place of its own. */
    private const STRAIGHT_FRAMES = 24.0;
    /** As many as an edit can hold. */
    public const MOST_PLACES = 512;

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
     * @param Counted $loop  whose tempo is known
     * @param int     $times 1 for the nearest; 2 for half-time, -2 for double-time beside it
     */
    public static function tempo(Counted $loop, float $beatBpm, int $times = 1): self
    {
        $bpm = $loop->bpm ?? $beatBpm;
        $played = $bpm;
        while ($played / $beatBpm > \M_SQRT2) {
            $played /= 2.0;
        }
        while ($played / $beatBpm < \M_SQRT1_2) {
            $played *= 2.0;
        }
        $ratio = $played / $beatBpm * (2 === $times ? 2.0 : (-2 === $times ? 0.5 : 1.0));
        // A loop that is nearly a whole number of bars becomes exactly that.
        $now = $loop->seconds() * $ratio * $beatBpm / 60.0 / $loop->aBar;
        if (null !== $loop->bars && $now > 0.4) {
            $whole = $now > 0.75 ? round($now) : 0.5;
            $ratio *= $whole / $now;
            $now = $whole;
        }
        $percent = 100.0 * $ratio;
        if (null !== $snag = self::snag($percent)) {
            return $snag;
        }
        $length = null === $loop->bars ? \sprintf('%.2f s', $loop->seconds() * $ratio) : \sprintf('%s %s', round($now, 2), 1.0 === $now ? 'bar' : 'bars');
        $words = \sprintf('%s → %s BPM, now %s long', self::bpm($bpm), self::bpm($beatBpm), $length);

        return abs($percent - 100.0) < 0.01
            ? new self([], \sprintf('Fits as it is: %s BPM, %s', self::bpm($beatBpm), $length))
            : new self([self::stretch($percent)], $words);
    }

    /**
     * Every beat of the recording on a beat of the beat, now and when the tempo changes.
     *
     * @param array<int, int> $lines  frame of each of its beats, as BeatGrid gives them; at least two
     * @param int             $source frames of the recording itself
     */
    public static function follow(array $lines, Counted $loop, float $beatBpm, int $source): self
    {
        $places = array_map(static fn (array $p): array => [$p[0], $p[1] * $loop->aLine], self::places($lines));
        if (null !== $loop->bars) {
            [[$frame, $beat], $next] = $places;
            $start = $beat - $frame * ($next[1] - $beat) / ($next[0] - $frame);
            $end = $start + $loop->aBar * $loop->bars;
            $inside = array_filter($places, static fn (array $p): bool => $p[1] > $start + 0.1 && $p[1] < $end - 0.1);
            $places = [[0, $start], ...(\count($places) > 2 ? $inside : []), [$loop->frames, $end]];
        }
        [$first, $last] = [$places[0], $places[\count($places) - 1]];
        $bpm = BeatGrid::tempo($last[1] - $first[1], ($last[0] - $first[0]) / $loop->rate);
        $factor = 1.0;
        while ($bpm * $factor / $beatBpm > \M_SQRT2) {
            $factor *= 0.5;
        }
        while ($bpm * $factor / $beatBpm < \M_SQRT1_2) {
            $factor *= 2.0;
        }
        $row = implode(' ', array_map(static fn (array $p): string => $p[0].' '.round($p[1] * $factor, 4), $places));
        $edit = new Edit(EditKind::InTime, null, null, ['bpm' => $beatBpm, 'places' => $row, 'follow' => 1, 'frames' => $source, 'rate' => $loop->rate]);
        $even = \count($places) < 3;

        return new self([$edit], \sprintf('%s, now and when the tempo changes', $even ? \sprintf('%s → %s BPM', self::bpm($bpm), self::bpm($beatBpm)) : \sprintf('Every beat on the beat at %s BPM', self::bpm($beatBpm))));
    }

    /**
     * Only those lines that are needed: what lies nearly on the straight way between its neighbours is left out.
     *
     * @param array<int, int> $lines
     *
     * @return list<array{int, float}>
     */
    private static function places(array $lines): array
    {
        $beats = array_keys($lines);
        $near = self::STRAIGHT_FRAMES;
        while (\count($kept = self::corners($lines, $beats, $near)) > self::MOST_PLACES) {
            $near *= 2.0;
        }

        return array_map(static fn (int $i): array => [$lines[$beats[$i]], (float) $beats[$i]], $kept);
    }

    /**
     * Of lines, those between which the others lie within some frames of the straight way.
     *
     * @param array<int, int> $lines
     * @param list<int>       $beats
     *
     * @return list<int> indexes of $beats, the first and the last among them
     */
    private static function corners(array $lines, array $beats, float $near): array
    {
        $kept = [0];
        for ($i = 2; $i < \count($beats); ++$i) {
            $from = $beats[$kept[\count($kept) - 1]];
            $pace = ($lines[$beats[$i]] - $lines[$from]) / (float) ($beats[$i] - $from);
            for ($k = $kept[\count($kept) - 1] + 1; $k < $i; ++$k) {
                if (abs($lines[$from] + ($beats[$k] - $from) * $pace - $lines[$beats[$k]]) > $near) {
                    $kept[] = $i - 1;
                    break;
                }
            }
        }
        $kept[] = \count($beats) - 1;

        return $kept;
    }

    /**
     * In the place of something else: at the beat's tempo, as long as that is, repeated or cut where it has to be.
     *
     * @param float $seconds how long the other one is
     */
    public static function inPlace(Counted $loop, float $beatBpm, float $seconds): self
    {
        $frames = $loop->frames;
        $wanted = max(1, (int) round($seconds * $loop->rate));
        $percent = 100.0 * $wanted / $frames;
        $fit = null === $loop->bpm ? self::snag($percent) : self::tempo($loop, $beatBpm);
        $edits = null === $fit ? [self::stretch($percent)] : $fit->edits;
        $length = (new Edits($edits))->length($frames);
        // Nearly as long becomes exactly as long.
        if (null !== $fit && abs($length / $wanted - 1.0) < self::NEARLY) {
            $edits = [self::stretch($percent)];
        }
        $words = [\sprintf('%d %% of its length', round((float) (($edits[0] ?? null)->settings['percent'] ?? 100.0)))];
        $length = (new Edits($edits))->length($frames);
        while ($length < $wanted * (1.0 - self::NEARLY) && \count($edits) < self::MOST_EDITS) {
            $edits[] = new Edit(EditKind::Repeat, null, null);
            $words['repeat'] = 'repeated';
            $length *= 2;
        }
        if ($length > $wanted) {
            $edits[] = new Edit(EditKind::Keep, 0, $wanted);
            $length > $wanted * (1.0 + self::NEARLY) && $words[] = 'cut to length';
        }

        return new self($edits, implode(', ', $words), $fit?->snag);
    }

    /** To be exactly so many bars of some quarters long at the beat's tempo. */
    public static function bars(int $bars, float $aBar, float $beatBpm, int $frames, int $rate): self
    {
        $percent = 100.0 * $bars * $aBar * 60.0 / $beatBpm / ($frames / $rate);

        return self::snag($percent) ?? new self([self::stretch($percent)], \sprintf('Now %d %s at %s BPM', $bars, 1 === $bars ? 'bar' : 'bars', self::bpm($beatBpm)));
    }

    /** Nothing to do, and why. */
    public static function already(string $words): self
    {
        return new self([], $words);
    }

    /** From one key into another, the shorter way or the other; between major and minor by the related key. */
    public static function key(Key $from, Key $to, bool $shorter = true, ?Tuning $tuning = null): self
    {
        $off = true === $tuning?->isOff() ? $tuning->cents : 0.0;
        $named = true === $tuning?->isOff() ? $tuning->of($from) : $from->name();
        $tonic = $from->minor === $to->minor ? $from->tonic : $from->tonic + ($from->minor ? 3 : 9);
        $up = (($to->tonic - $tonic) % 12 + 12) % 12;
        if (0 === $up) {
            return 0.0 === $off ? new self([], \sprintf('Fits as it is: %s', $named))
                : new self([new Edit(EditKind::Pitch, null, null, ['cents' => round(-$off)])], \sprintf('%s → in tune', $named));
        }
        $way = ($up <= 6) === $shorter ? $up : $up - 12;

        return new self(
            [new Edit(EditKind::Pitch, null, null, ['cents' => round(100.0 * $way - $off)])],
            \sprintf('%s → %s, %s %d %s', $named, $to->name(), $way > 0 ? 'up' : 'down', abs($way), 1 === abs($way) ? 'semitone' : 'semitones'),
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
