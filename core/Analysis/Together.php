<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Decibels;

/**
 * How several sounds that were dropped at once belong together, by what they share: their names, their lengths and
 * beginnings, their spectra, and the noise in them. Microphones that heard one strike share its noise, which no two
 * strikes do.
 */
final readonly class Together
{
    /** More than these are a folder, not one thing; longer ones are no strikes. */
    private const MOST = 16;
    private const LONGEST_SECONDS = 12.0;
    private const SAME_LENGTH_SECONDS = 0.002;
    private const SAME_BEGIN_SECONDS = 0.03;
    /** Correlation of two bands' spectra from which two sounds are the same thing. */
    private const ALIKE = 0.75;
    private const SHARED_NOISE = 0.25;
    private const OWN_NOISE = 0.1;
    /** Two microphones never hear so much the same: this is one recording at two levels. */
    private const COPY = 0.97;
    private const STRENGTHS_DB = 4.0;
    private const BEFORE_SECONDS = 0.003;
    private const SILENCE_DB = -66.0;

    private const MICROPHONES = '/(?<![a-z])(?:mic|close|room|overheads?|oh|amb|ambience|top|bottom|btm|inside|outside|in|out|near|far|spot|stereo|mono|left|right)(?![a-z])/i';
    private const STRENGTHS = '/(?<![a-z])(?:v|vel|velocity|soft|medium|med|hard|loud|quiet|ghost|pp?|mp|mf|ff?|strength)(?![a-z])/i';
    private const TURNS = '/(?<![a-z])(?:rr|alt|take|round|robin|variation|var)(?![a-z])/i';

    /**
     * @param int $start first frame of all of them, where they are one strike
     * @param int $end   frame after the last that sounds in one of them
     */
    private function __construct(public Grouping $grouping, public int $start, public int $end)
    {
    }

    /** @param non-empty-array<string, AudioSource> $sources by name */
    public static function of(array $sources): self
    {
        $longest = max(array_map(static fn (AudioSource $s): int => $s->frames(), $sources));
        $rates = array_unique(array_map(static fn (AudioSource $s): int => $s->sampleRate(), $sources));
        if (\count($sources) < 2 || \count($sources) > self::MOST || \count($rates) > 1 || $longest > self::LONGEST_SECONDS * reset($rates)) {
            return new self(Grouping::Free, 0, $longest);
        }
        $takes = array_map(static fn (AudioSource $s): Take => new Take($s), array_values($sources));
        $names = array_map(strval(...), array_keys($sources));
        if (self::isOneStrike($takes, $names)) {
            $rate = reset($rates);
            $begin = max(0, min(array_map(static fn (Take $t): int => $t->begin, $takes)) - (int) (self::BEFORE_SECONDS * $rate));
            $end = min($longest, max(array_map(static fn (Take $t): int => $t->lastOver(Decibels::toGain(self::SILENCE_DB)), $takes)) + (int) (0.02 * $rate));

            return new self(Grouping::Stack, $begin, max($begin + 1, $end));
        }

        return new self(self::isOneThing($takes, $names) ? self::strikes($takes, $names) : Grouping::Free, 0, $longest);
    }

    /**
     * @param non-empty-list<Take>   $takes
     * @param non-empty-list<string> $names
     */
    private static function isOneStrike(array $takes, array $names): bool
    {
        $loudest = array_reduce($takes, static fn (Take $most, Take $t): Take => $t->peak > $most->peak ? $t : $most, $takes[0]);
        $score = self::said($names, self::MICROPHONES) ? 2.0 : 0.0;
        $score -= self::said($names, self::STRENGTHS) || self::said($names, self::TURNS) ? 3.0 : 0.0;
        $worst = \INF;
        foreach ($takes as $take) {
            if ($take === $loudest) {
                continue;
            }
            $apart = abs($take->frames - $loudest->frames) / $take->rate;
            $noise = $take->sharedNoise($loudest);
            $worst = min($worst, match (true) {
                $apart <= self::SAME_LENGTH_SECONDS => 2.0,
                $apart > 0.1 * $loudest->frames / $take->rate => -3.0,
                default => 0.0,
            } + (abs($take->begin - $loudest->begin) <= self::SAME_BEGIN_SECONDS * $take->rate ? 0.0 : -3.0) + match (true) {
                $noise > self::COPY => -4.0,
                $noise >= self::SHARED_NOISE => 2.0,
                $noise < self::OWN_NOISE => -4.0,
                default => 0.0,
            });
        }

        return $score + $worst >= 2.0;
    }

    /**
     * @param non-empty-list<Take>   $takes
     * @param non-empty-list<string> $names
     */
    private static function isOneThing(array $takes, array $names): bool
    {
        $bare = array_map(static fn (string $name): string => trim((string) preg_replace(['/\.\w{1,5}$/', self::STRENGTHS, self::TURNS, '/[^a-z]+/i'], ['', ' ', ' ', ' '], strtolower($name))), $names);
        $alike = min(array_map(static fn (Take $take): float => $take->likeness($takes[0]), $takes));

        return $alike >= self::ALIKE || ('' !== $bare[0] && 1 === \count(array_unique($bare)) && $alike > 0.0 && (self::said($names, self::STRENGTHS) || self::said($names, self::TURNS)));
    }

    /**
     * @param non-empty-list<Take>   $takes
     * @param non-empty-list<string> $names
     */
    private static function strikes(array $takes, array $names): Grouping
    {
        $levels = array_map(static fn (Take $t): float => $t->peak, $takes);

        return match (true) {
            self::said($names, self::TURNS) => Grouping::Turn,
            self::said($names, self::STRENGTHS) => Grouping::Strength,
            default => Decibels::fromGain(max($levels)) - Decibels::fromGain(min($levels)) >= self::STRENGTHS_DB ? Grouping::Strength : Grouping::Turn,
        };
    }

    /**
     * Whether all names say something of a sort, or all but the plain one.
     *
     * @param non-empty-list<string> $names
     */
    private static function said(array $names, string $words): bool
    {
        $saying = array_filter($names, static fn (string $name): bool => 1 === preg_match($words, (string) preg_replace(['/\.\w{1,5}$/', '/[_\-\d]+/'], ['', ' '], $name)));

        return \count($saying) > 1 && \count($saying) >= \count($names) - 1;
    }
}
