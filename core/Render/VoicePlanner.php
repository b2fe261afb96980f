<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Signal\Decibels;

/**
 * Strikes to voices: velocity, lengths, glides, and what silences them. A strike ends the voice before it on its pad, and
 * the voices of its choke group; a note that before it of its pitch, or of its instrument.
 */
final class VoicePlanner
{
    /** Velocity 64 sounds 9 dB softer than 127. */
    private const VELOCITY_CURVE = 1.5;

    private readonly StrikePlanner $strikes;
    /** @var array<string, array{string, int, int}> by pad or instrument and its pitch: a pattern strikes each of them often */
    private array $stretches = [];

    public function __construct(private readonly Beat $beat, private readonly PadSounds $sounds)
    {
        $this->strikes = new StrikePlanner($beat);
    }

    /** @return array<string, list<Voice>> by pad or part; a loop's last voices are silenced by its first */
    public function loop(Passage $passage, int $frames): array
    {
        $strikes = $this->strikes->of($passage, 0, $frames, 0);

        return $this->voices($strikes, array_map(static fn (int $first): int => $first + $frames, StrikePlanner::silences($strikes)), true, StrikePlanner::lastPitches($strikes, []));
    }

    /**
     * Section after section, each only when it is asked for. What strikes later may silence a voice, so it looks ahead
     * as far as the longest sound lasts.
     *
     * @param list<array{Passage, int, int}> $sections what is played, first frame and frames
     *
     * @return \Generator<int, array<string, list<Voice>>> by section its voices by pad or part
     */
    public function song(array $sections): \Generator
    {
        if ([] === $sections) {
            return;
        }
        $reach = $this->longestFrames(array_column($sections, 0));
        $strikes = $silences = $pitches = [];
        $seen = 0;
        foreach ($sections as $pass => [, $start, $frames]) {
            for (; $seen < \count($sections) && ($seen <= $pass || $sections[$seen][1] <= $start + $frames + $reach); ++$seen) {
                $strikes[$seen] = $this->strikes->of($sections[$seen][0], $sections[$seen][1], $sections[$seen][2], $seen);
                $silences[$seen] = StrikePlanner::silences($strikes[$seen]);
            }
            $later = [];
            for ($i = $pass + 1; $i < $seen; ++$i) {
                // Of what silences a sound only the first counts.
                $later += $silences[$i];
            }
            yield $pass => $this->voices($strikes[$pass], $later, false, $pitches);
            $pitches = StrikePlanner::lastPitches($strikes[$pass], $pitches);
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
        return array_map(fn (Pad $p): Voice => $this->voice($p, new Strike(0, $pad->id, $p, [], $velocity, \PHP_INT_MAX), null, false), $pad->answering($velocity));
    }

    /** How loud a strike is: gain for velocity 1 to 127. */
    public static function velocityGain(int $velocity): float
    {
        return ($velocity / 127.0) ** self::VELOCITY_CURVE;
    }

    /**
     * A note of an instrument struck on its own.
     *
     * @return list<Voice> none where it is out of reach
     */
    public function note(Keys $keys, int $pitch, int $velocity): array
    {
        $voice = $this->keysVoice(new Strike(0, '', $keys, [], $velocity, \PHP_INT_MAX, $pitch), null, false);

        return null === $voice ? [] : [$voice];
    }

    /**
     * @param list<Strike>       $strikes
     * @param array<string, int> $cut     what silences them after the last of them
     * @param array<string, int> $pitches of the last note of each part before them: where a glide begins
     *
     * @return array<string, list<Voice>>
     */
    private function voices(array $strikes, array $cut, bool $wraps, array $pitches): array
    {
        $cuts = [];
        for ($i = \count($strikes) - 1; $i >= 0; --$i) {
            $cuts[$i] = null;
            foreach ($strikes[$i]->silences as $name) {
                $cuts[$i] = self::earlier($cuts[$i], $cut[$name] ?? null);
                $cut[$name] = $strikes[$i]->frame;
            }
        }
        $voices = [];
        foreach ($strikes as $i => $strike) {
            if ($strike->sound instanceof Keys) {
                $voice = $this->keysVoice($strike, $cuts[$i], $wraps, $pitches[$strike->source] ?? null);
                $pitches[$strike->source] = $strike->pitch;
                if (null !== $voice) {
                    $voices[$strike->source][] = $voice;
                }
                continue;
            }
            foreach ($strike->sound->answering($strike->velocity) as $sound) {
                $voices[$strike->source][] = $this->voice($sound, $strike, $cuts[$i], $wraps);
            }
        }

        return $voices;
    }

    private function keysVoice(Strike $strike, ?int $cut, bool $wraps, ?int $before = null): ?Voice
    {
        $keys = $strike->sound;
        $cents = $keys instanceof Keys ? $keys->tuneCents($strike->pitch) : null;
        if (!$keys instanceof Keys || null === $cents) {
            return null;
        }
        [$sound, $cents] = $this->pitched($keys, $cents);
        [$sample, $from, $length] = $this->stretches[$strike->source.' '.$strike->pitch] ??= $this->stretchOf($sound, $keys->start, $keys->end, $cents);
        $fade = min(Voice::FADE, intdiv($length, 4));
        $fadeOut = $fade;
        $round = null;
        if ($keys->held) {
            // Let go, it dies away over its release.
            $release = max($fade, (int) round($keys->releaseMs * Beat::SAMPLE_RATE / 1000));
            $held = max(1, $this->beat->tempo->frames(min($strike->ticks, 1e12), Beat::SAMPLE_RATE));
            $round = $this->round($keys, $sample, $cents, $from);
            if (null !== $round || $held + $release < $length) {
                [$length, $fadeOut] = [$held + $release, $release];
            }
        }
        [$length, $fadeOut] = self::cut($strike->frame, $length, $fade, $fadeOut, $cut);
        [$from, $frame, $length, $fadeIn] = self::begun($from, $strike->frame, $length, $wraps);
        $gain = Decibels::toGain($keys->levelDb) * self::velocityGain($strike->velocity);

        return new Voice($sample, $cents, $from, $frame, $length, $fadeIn, min($fadeOut, $length), $gain, $gain, self::glide($keys, $strike->pitch, $before), $round);
    }

    /**
     * The longest that a sound goes on that is struck in one of the passages, in frames.
     *
     * @param list<Passage> $passages
     */
    private function longestFrames(array $passages): int
    {
        $struck = $lowest = [];
        foreach ($passages as $passage) {
            foreach ($passage->patterns as [$pattern]) {
                $struck[$pattern->id] ??= array_flip(array_column($pattern->hits, 'pad'));
                if (!isset($lowest[$pattern->id]) && [] !== $pattern->notes) {
                    $lowest[$pattern->id] = [$pattern->part, min(array_column($pattern->notes, 'pitch'))];
                }
            }
        }
        $longest = 0;
        foreach ($lowest as [$part, $pitch]) {
            // The lower a recording is played, the longer it lasts.
            $keys = ($this->beat->parts[$part] ?? null)?->keys;
            $longest = null === $keys ? $longest : max($longest, $this->stretchOf($this->beat->sound($keys->sample), $keys->start, $keys->end, max(-100 * Keys::REACH, 100 * $pitch - $keys->rootCents))[2]);
        }
        foreach (array_intersect_key($this->beat->kit->pads, array_replace([], ...array_values($struck))) as $pad) {
            foreach ($pad->sounds() as $sound) {
                $longest = max($longest, $this->played($sound)[2]);
            }
        }

        return $longest;
    }

    /** @return array{string, int, int} the sound to be read, its first frame and its frames, to its end */
    private function played(Pad $pad): array
    {
        $name = $pad->id.' '.$pad->sample.' '.$pad->start.' '.$pad->end;
        if (!isset($this->stretches[$name])) {
            [$sound, $start, $end] = $this->beat->stretchOf($pad);
            $this->stretches[$name] = $this->stretchOf($sound, $start, $end, $pad->tuneCents);
        }

        return $this->stretches[$name];
    }

    /** @return array{string, int, int} */
    private function stretchOf(string $sound, int $start, int $end, int $tuneCents): array
    {
        $sample = $this->sounds->playable($sound, $start);
        $stretch = $this->sounds->stretch($sample, $tuneCents);
        $from = (int) round($start * $stretch);

        return [$sample, $from, max(1, (int) round($end * $stretch) - $from)];
    }

    /**
     * What is read for a note and by how much it is tuned: where all notes are to be as long, a sound that was moved in
     * pitch; the recording, tuned, stands for it until it is there.
     *
     * @return array{string, int}
     */
    private function pitched(Keys $keys, int $cents): array
    {
        if ($keys->even && 0 !== $cents) {
            $sound = $this->beat->pitched($keys->sample, $cents);
            if ($this->sounds->playable($sound, $keys->start) === $sound) {
                return [$sound, 0];
            }
        }

        return [$this->beat->sound($keys->sample), $cents];
    }

    /** The stretch that goes round while a note is held, in frames from where its voice is at full level. */
    private function round(Keys $keys, string $sample, int $cents, int $from): ?Round
    {
        if (null === $keys->loopStart || null === $keys->loopEnd) {
            return null;
        }
        $stretch = $this->sounds->stretch($sample, $cents);
        $start = max(0, (int) round($keys->loopStart * $stretch) - $from);

        return new Round($start, max($start + 2, (int) round($keys->loopEnd * $stretch) - $from));
    }

    /** From the note before, where notes come one at a time. */
    private static function glide(Keys $keys, int $pitch, ?int $before): ?Glide
    {
        $frames = (int) round($keys->glideMs * Beat::SAMPLE_RATE / 1000);

        return !$keys->single || $frames < 1 || null === $before || $before === $pitch ? null : new Glide(100.0 * ($before - $pitch), $frames);
    }

    /**
     * What begins inside a recording fades in before it is struck.
     *
     * @return array{int, int, int, int} first frame of the sound, the frame at which it is at full level, length and fade
     */
    private static function begun(int $from, int $frame, int $length, bool $wraps): array
    {
        $fadeIn = min(Voice::FADE, $from);
        if (!$wraps && $frame < $fadeIn) {
            // There is no time before the start of a song to fade in: it does so as it begins.
            $late = min($fadeIn - $frame, intdiv($length, 2));

            return [$from + $late, $frame + $late, $length - $late, min($fadeIn, $frame + $late)];
        }

        return [$from, $frame, $length, $fadeIn];
    }

    /**
     * Until when a voice lasts that another silences.
     *
     * @return array{int, int} its length and the fade at its end
     */
    private static function cut(int $frame, int $length, int $fade, int $fadeOut, ?int $cut): array
    {
        if (null === $cut || $frame + $length <= $cut) {
            return [$length, $fadeOut];
        }
        // A voice that goes on anyway is faded after the cut; one that ends about there keeps its own fade.
        $rest = $length - ($cut - $frame);

        return [min($length, $cut - $frame + min($rest, Voice::CHOKE_FADE)), max($fade, min(Voice::CHOKE_FADE, $rest))];
    }

    private static function earlier(?int $a, ?int $b): ?int
    {
        return null === $a || null === $b ? $a ?? $b : min($a, $b);
    }

    private function voice(Pad $pad, Strike $strike, ?int $cut, bool $wraps): Voice
    {
        $frame = $strike->frame;
        [$sample, $from, $length] = $this->played($pad);
        // What is shorter than a few fades keeps most of itself.
        $fade = min(Voice::FADE, intdiv($length, 4));
        $fadeOut = $fade;
        if (PlayMode::Held === $pad->mode) {
            $length = min($length, max(1, $this->beat->tempo->frames(min($strike->ticks, 1e12), Beat::SAMPLE_RATE)));
        }
        [$length, $fadeOut] = self::cut($frame, $length, $fade, $fadeOut, $cut);
        [$from, $frame, $length, $fadeIn] = self::begun($from, $frame, $length, $wraps);
        $gain = Decibels::toGain($pad->levelDb) * self::velocityGain($strike->velocity);
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
