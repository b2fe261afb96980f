<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Signal\Decibels;

/**
 * Hits to voices: swing, velocity, lengths, and who silences whom. A strike ends the
 * voice before it on its pad, and the voices of its choke group.
 */
final readonly class VoicePlanner
{
    /** Velocity 64 sounds 9 dB softer than 127. */
    private const VELOCITY_CURVE = 1.5;

    public function __construct(private Beat $beat, private PadSounds $sounds)
    {
    }

    /** @return array<string, list<Voice>> by pad; a loop's last voices are silenced by its first */
    public function loop(Pattern $pattern, int $frames): array
    {
        $strikes = $this->strikes($pattern, 0, $frames, 0);

        return $this->voices($strikes, self::silences(array_map(static fn (array $s): array => [$s[0] + $frames, $s[1], $s[2]], $strikes)), true);
    }

    /**
     * Section after section, each only when it is asked for. What strikes later may silence a voice, so it looks ahead
     * as far as the longest sound lasts.
     *
     * @param list<array{Pattern, int, int}> $sections pattern, first frame and frames
     *
     * @return \Generator<int, array<string, list<Voice>>> by section its voices by pad
     */
    public function song(array $sections): \Generator
    {
        if ([] === $sections) {
            return;
        }
        $reach = $this->longestFrames(array_column($sections, 0));
        $strikes = $silences = [];
        $seen = 0;
        foreach ($sections as $pass => [, $start, $frames]) {
            for (; $seen < \count($sections) && ($seen <= $pass || $sections[$seen][1] <= $start + $frames + $reach); ++$seen) {
                $strikes[$seen] = $this->strikes($sections[$seen][0], $sections[$seen][1], $sections[$seen][2], $seen);
                $silences[$seen] = self::silences($strikes[$seen]);
            }
            $later = [];
            for ($i = $pass + 1; $i < $seen; ++$i) {
                // Of what silences a sound only the first counts.
                $later += $silences[$i];
            }
            yield $pass => $this->voices($strikes[$pass], $later, false);
            unset($strikes[$pass], $silences[$pass]);
        }
    }

    /**
     * What a pad sounds like on its own: those of its sounds that answer a velocity, with its level.
     *
     * @return non-empty-list<Voice>
     */
    public function struck(Pad $pad, int $velocity): array
    {
        return array_map(fn (Pad $p): Voice => $this->voice($p, new Hit(0, $pad->id, $velocity, \PHP_INT_MAX), 0, null, false), $pad->answering($velocity));
    }

    /** How loud a strike is: gain for velocity 1 to 127. */
    public static function velocityGain(int $velocity): float
    {
        return ($velocity / 127.0) ** self::VELOCITY_CURVE;
    }

    /** @return list<array{int, Hit, Pad}> in order of time */
    private function strikes(Pattern $pattern, int $start, int $frames, int $pass): array
    {
        $strikes = [];
        foreach ($pattern->hits as $hit) {
            $pad = $this->beat->kit->pad($hit->pad);
            if (null !== $pad && $this->happens($hit, $pass)) {
                $frame = $this->beat->tempo->frames($pattern->swing->sounding($hit->tick) + $hit->fine / Hit::FINE, Beat::SAMPLE_RATE);
                $strikes[] = [$start + min($frame, $frames - 1), $hit, $pad];
            }
        }
        // Of two that fall together, the later pad of the kit is the later strike.
        $places = array_flip(array_keys($this->beat->kit->pads));
        usort($strikes, static fn (array $a, array $b): int => [$a[0], $places[$a[1]->pad]] <=> [$b[0], $places[$b[1]->pad]]);

        return $strikes;
    }

    /** Chance is a function of the beat's seed, the hit and the pass, so that a beat always sounds the same. */
    private function happens(Hit $hit, int $pass): bool
    {
        return $hit->chance >= 100 || hexdec(hash('crc32b', $this->beat->seed.' '.$hit->key().' '.$pass)) % 100 < $hit->chance;
    }

    /**
     * When each pad, and each choke group, is struck first.
     *
     * @param list<array{int, Hit, Pad}> $strikes
     *
     * @return array<string, int>
     */
    private static function silences(array $strikes): array
    {
        $first = [];
        foreach ($strikes as [$frame, , $pad]) {
            $first['pad '.$pad->id] ??= $frame;
            if ($pad->choke > 0) {
                $first['group '.$pad->choke] ??= $frame;
            }
        }

        return $first;
    }

    /**
     * @param list<array{int, Hit, Pad}> $strikes
     * @param array<string, int>         $cut     what silences them after the last of them
     *
     * @return array<string, list<Voice>>
     */
    private function voices(array $strikes, array $cut, bool $wraps): array
    {
        $cuts = [];
        for ($i = \count($strikes) - 1; $i >= 0; --$i) {
            [$frame, , $pad] = $strikes[$i];
            $cuts[$i] = $cut['pad '.$pad->id] ?? null;
            if ($pad->choke > 0) {
                $cuts[$i] = self::earlier($cuts[$i], $cut['group '.$pad->choke] ?? null);
                $cut['group '.$pad->choke] = $frame;
            }
            $cut['pad '.$pad->id] = $frame;
        }
        $voices = [];
        foreach ($strikes as $i => [$frame, $hit, $pad]) {
            foreach ($pad->answering($hit->velocity) as $sound) {
                $voices[$pad->id][] = $this->voice($sound, $hit, $frame, $cuts[$i], $wraps);
            }
        }

        return $voices;
    }

    /**
     * The longest that a sound goes on that is struck in one of the patterns, in frames.
     *
     * @param list<Pattern> $patterns
     */
    private function longestFrames(array $patterns): int
    {
        $struck = [];
        foreach ($patterns as $pattern) {
            $struck[$pattern->id] ??= array_flip(array_column($pattern->hits, 'pad'));
        }
        $longest = 0;
        foreach (array_intersect_key($this->beat->kit->pads, array_replace(...array_values($struck))) as $pad) {
            foreach ($pad->sounds() as $sound) {
                $longest = max($longest, $this->played($sound)[2]);
            }
        }

        return $longest;
    }

    /** @return array{string, int, int} the sound to be read, its first frame and its frames, to its end */
    private function played(Pad $pad): array
    {
        [$sample, $start, $end] = $this->beat->stretchOf($pad);
        $sample = $this->sounds->playable($sample, $start);
        $stretch = $this->sounds->stretch($sample, $pad->tuneCents);
        $from = (int) round($start * $stretch);

        return [$sample, $from, max(1, (int) round($end * $stretch) - $from)];
    }

    private static function earlier(?int $a, ?int $b): ?int
    {
        return null === $a || null === $b ? $a ?? $b : min($a, $b);
    }

    private function voice(Pad $pad, Hit $hit, int $frame, ?int $cut, bool $wraps): Voice
    {
        [$sample, $from, $length] = $this->played($pad);
        // What is shorter than a few fades keeps most of itself.
        $fade = min(Voice::FADE, intdiv($length, 4));
        $fadeOut = $fade;
        if (PlayMode::Held === $pad->mode) {
            $length = min($length, max(1, $this->beat->tempo->frames(min($hit->lengthTicks(), 1e12), Beat::SAMPLE_RATE)));
        }
        if (null !== $cut && $frame + $length > $cut) {
            // A voice that goes on anyway is faded after the cut; one that ends about there keeps its own fade.
            $rest = $length - ($cut - $frame);
            $fadeOut = max($fade, min(Voice::CHOKE_FADE, $rest));
            $length = min($length, $cut - $frame + min($rest, Voice::CHOKE_FADE));
        }
        $fadeIn = min(Voice::FADE, $from);
        // A statement of its own: within the call it was compiled wrongly now and then (docs/decisions/08).
        if (!$wraps && $frame < $fadeIn) {
            // There is no time before the start of a song to fade in: it does so as it begins.
            $late = min($fadeIn - $frame, intdiv($length, 2));
            [$from, $frame, $length] = [$from + $late, $frame + $late, $length - $late];
            $fadeIn = min($fadeIn, $frame);
        }
        $gain = Decibels::toGain($pad->levelDb) * self::velocityGain($hit->velocity);
        [$left, $right] = Panning::gains($pad->pan);

        return new Voice(
            $sample,
            $pad->tuneCents,
            $from,
            $frame,
            $length,
            $fadeIn,
            min($fadeOut, $length),
            $gain * $left,
            $gain * $right,
        );
    }
}
