<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Synth\MadeNote;
use Pestle\Core\Theory\TempoMap;

/** Strikes to voices: which sounds answer, how loud and how long, what is done to them, and when others silence them. */
final class VoicePlanner
{
    /** MIDI note at which a cut-off that follows the keys is as it is set. */
    private const MIDDLE = 60;

    private readonly StrikePlanner $strikes;
    private readonly Placing $placing;
    private readonly ClipVoices $clips;
    /** @var array<string, array{string, int, int}> by pad or instrument and its pitch: a pattern strikes each of them often */
    private array $stretches = [];

    public function __construct(private readonly Beat $beat, private readonly PadSounds $sounds)
    {
        $this->strikes = new StrikePlanner($beat);
        $this->placing = new Placing($beat, $sounds);
        $this->clips = new ClipVoices($beat, $sounds);
    }

    /**
     * A loop's last voices are silenced by its first.
     *
     * @param list<Place> $places where each pass of it begins
     */
    public function loop(Passage $passage, int $frames, TempoMap $time, array $places): LoopVoices
    {
        $strikes = $this->strikes->of($passage, 0, $frames, 0, $time, $places, true);
        $cuts = Silencing::cuts($strikes, Silencing::round(Silencing::said($strikes), $frames, Silencing::most($strikes)));
        $pitches = StrikePlanner::lastPitches($strikes, []);
        $before = [];
        foreach ($strikes as $i => $strike) {
            if ($strike->sound instanceof Keys) {
                $before[$i] = $pitches[$strike->source] ?? null;
                $pitches[$strike->source] = $strike->lastPitch();
            }
        }

        return new LoopVoices($this, $strikes, $cuts, $before, $this->clips->of($passage, 0, $time, true), max(1, $frames), max($this->longestFrames([$passage]), $this->longestHeld($strikes)));
    }

    /**
     * Section after section, each only when it is asked for. What strikes later may silence a voice, so it looks ahead
     * as far as the longest sound lasts.
     *
     * @param list<array{Passage, int, int, Place|null, TempoMap}> $sections what is played, first frame, frames, where that is, and its tempo from there
     *
     * @return \Generator<int, array<string, list<Voice>>> by section its voices by pad, part or track
     */
    public function song(array $sections): \Generator
    {
        if ([] === $sections) {
            return;
        }
        $reach = $this->longestFrames(array_column($sections, 0));
        $strikes = $said = $pitches = [];
        $seen = 0;
        foreach ($sections as $pass => [, $start, $frames, , $time]) {
            for (; $seen < \count($sections) && ($seen <= $pass || $sections[$seen][1] <= $start + $frames + $reach); ++$seen) {
                $strikes[$seen] = $this->strikes->of($sections[$seen][0], $sections[$seen][1], $sections[$seen][2], $seen, $sections[$seen][4], null === $sections[$seen][3] ? [] : [$sections[$seen][3]]);
                $said[$seen] = Silencing::said($strikes[$seen]);
            }
            yield $pass => $this->voices($strikes[$pass], self::later($said, $pass, $seen, Silencing::most($strikes[$pass])), $pitches) + $this->clips->of($sections[$pass][0], $start, $time);
            $pitches = StrikePlanner::lastPitches($strikes[$pass], $pitches);
            unset($strikes[$pass], $said[$pass]);
        }
    }

    /**
     * What is said in the sections after one, as often as may count.
     *
     * @param array<int, array<string, non-empty-list<int>>> $said by section
     *
     * @return array<string, non-empty-list<int>>
     */
    private static function later(array $said, int $pass, int $seen, int $most): array
    {
        $later = [];
        for ($i = $pass + 1; $i < $seen; ++$i) {
            foreach ($said[$i] as $name => $at) {
                if (\count($later[$name] ?? []) < $most) {
                    $later[$name] = [...$later[$name] ?? [], ...\array_slice($at, 0, $most)];
                }
            }
        }

        return $later;
    }

    /**
     * What a pad sounds like on its own: those of its sounds that answer a velocity, with its level.
     *
     * @param int $turn which of them, where they answer one at a time
     *
     * @return list<Voice> none where no sound answers
     */
    public function struck(Pad $pad, int $velocity, int $turn = 0): array
    {
        return $this->padVoices($pad, Strike::pad($pad, null, 0, $velocity, \PHP_INT_MAX, $turn), null, false);
    }

    /** How loud a strike is: gain for velocity 1 to 127; at the usual power of 1.5, 64 sounds 9 dB softer than 127. */
    public static function velocityGain(int $velocity, float $power): float
    {
        return ($velocity / 127.0) ** $power;
    }

    /**
     * A note of an instrument struck on its own.
     *
     * @param float|null $seconds how long it is held; null for as long as it lasts
     *
     * @return list<Voice> none where it is out of reach
     */
    public function note(Keys $keys, int $pitch, int $velocity, int $turn = 0, ?float $seconds = null): array
    {
        $ticks = null === $seconds ? \PHP_INT_MAX : $this->beat->tempo->exactTicks($seconds);

        return $this->keysVoices($keys, Strike::note($keys, '', 0, $velocity, $ticks, $pitch, $turn), null, false);
    }

    /**
     * @param list<Strike>                       $strikes
     * @param array<string, non-empty-list<int>> $later   what silences them after the last of them
     * @param array<string, int>                 $pitches of the last note of each part before them: where a glide begins
     *
     * @return array<string, list<Voice>>
     */
    private function voices(array $strikes, array $later, array $pitches): array
    {
        $cuts = Silencing::cuts($strikes, $later);
        $voices = [];
        foreach ($strikes as $i => $strike) {
            foreach ($this->voicesOf($strike, $cuts[$i], false, $pitches[$strike->source] ?? null) as $voice) {
                $voices[$strike->source][] = $voice;
            }
            if ($strike->sound instanceof Keys) {
                $pitches[$strike->source] = $strike->lastPitch();
            }
        }

        return $voices;
    }

    /**
     * @param int|null $cut    frame at which it is silenced
     * @param bool     $wraps  whether it goes round
     * @param int|null $before pitch of the note before it: where a glide begins
     *
     * @return list<Voice>
     */
    public function voicesOf(Strike $strike, ?int $cut, bool $wraps, ?int $before): array
    {
        if (!$strike->heard) {
            return [];
        }

        return $strike->sound instanceof Keys ? $this->keysVoices($strike->sound, $strike, $cut, $wraps, $before) : $this->padVoices($strike->sound, $strike, $cut, $wraps);
    }

    /** @return list<Voice> */
    private function keysVoices(Keys $keys, Strike $strike, ?int $cut, bool $wraps, ?int $before = null): array
    {
        $voices = [];
        foreach ($keys->answering($strike->pitch, $strike->velocity, $strike->turn) as $zone) {
            $shaping = Shaping::of($keys->treatment, $strike->velocity, 100.0 * ($strike->pitch - self::MIDDLE), $zone->sound->pan, $strike->tempo ?? $this->beat->tempo, $strike->slides, $strike->drifts);
            $gain = Decibels::toGain($keys->levelDb + $zone->sound->levelDb) * self::velocityGain($strike->velocity, $keys->strength);
            [$left, $right] = true === $shaping?->swings() ? [1.0, 1.0] : Panning::gains($zone->sound->pan);
            $voice = $this->placing->voice($this->zoneSounding($keys, $zone, $strike->pitch, $before, $shaping), $strike->frame + Contour::frames($zone->sound->delayMs), $keys->held ? $strike->ticks : null, $keys->treatment, true, $cut, $wraps, $gain * $left, $gain * $right);
            if (null !== $voice) {
                $voices[] = $voice;
            }
        }

        return array_values(array_filter([...$voices, $this->madeVoice($keys, $strike, $cut, $wraps, $before)]));
    }

    /** What the waves of an instrument give, as one voice. */
    private function madeVoice(Keys $keys, Strike $strike, ?int $cut, bool $wraps, ?int $before): ?Voice
    {
        if ([] === $keys->waves || !$keys->isMadeAt($strike->pitch)) {
            return null;
        }
        $shaping = Shaping::of($keys->treatment, $strike->velocity, 100.0 * ($strike->pitch - self::MIDDLE), 0.0, $strike->tempo ?? $this->beat->tempo, $strike->slides, $strike->drifts);
        $gain = Decibels::toGain($keys->levelDb) * self::velocityGain($strike->velocity, $keys->strength);
        $note = new MadeNote($keys->waves, $strike->pitch, $strike->velocity, $keys->tuneCents);
        $sounding = new Sounding($note->name, 0, 0, MadeNote::FRAMES, null, self::glide($keys, $strike->pitch, $before), $shaping, $note);

        return $this->placing->voice($sounding, $strike->frame, $strike->ticks, $keys->treatment, true, $cut, $wraps, $gain, $gain);
    }

    private function zoneSounding(Keys $keys, Zone $zone, int $pitch, ?int $before, ?Shaping $shaping): Sounding
    {
        [$sound, $cents] = $this->pitched($keys, $zone, ($zone->tuneCents($pitch) ?? 0) + $keys->tuneCents);
        [$sample, $from, $length] = $this->stretchedZone($zone->sound, $sound, $cents);
        $round = $keys->held ? $this->round($zone->sound->loopStart, $zone->sound->loopEnd, $sample, $cents, $from) : null;

        return new Sounding($sample, $cents, $from, $length, $round, self::glide($keys, $pitch, $before), $shaping);
    }

    /** @return array{string, int, int} as played() */
    private function stretchedZone(Layer $layer, string $sound, int $cents): array
    {
        $name = implode(' ', [$sound, $layer->start, $layer->end, $cents, (int) $layer->reversed]);
        if (!isset($this->stretches[$name])) {
            [$whole, $start, $end] = $layer->reversed ? $this->beat->stretchOf($layer) : [$sound, $layer->start, $layer->end];
            $this->stretches[$name] = $this->stretchOf($whole, $start, $end, $cents);
        }

        return $this->stretches[$name];
    }

    /** @return list<Voice> */
    private function padVoices(Pad $pad, Strike $strike, ?int $cut, bool $wraps): array
    {
        $voices = [];
        foreach ($pad->answering($strike->velocity, $strike->turn) as [$layer, $share]) {
            $tune = $pad->tuneCents + $layer->tuneCents;
            $place = max(-1.0, min(1.0, $pad->pan + $layer->pan));
            $shaping = Shaping::of($pad->treatment, $strike->velocity, (float) $tune, $place, $strike->tempo ?? $this->beat->tempo, null, $strike->drifts);
            [$sample, $from, $length] = $this->played($layer, $tune);
            $held = PlayMode::Held === $pad->mode;
            $round = $held ? $this->round($layer->loopStart, $layer->loopEnd, $sample, $tune, $from) : null;
            $gain = Decibels::toGain($pad->levelDb + $layer->levelDb) * self::velocityGain($strike->velocity, $pad->strength) * $share;
            [$left, $right] = true === $shaping?->swings() ? [1.0, 1.0] : Panning::gains($place);
            $frame = $strike->frame + Contour::frames($layer->delayMs);
            $voice = $this->placing->voice(new Sounding($sample, $tune, $from, $length, $round, null, $shaping), $frame, $held ? $strike->ticks : null, $pad->treatment, false, $cut, $wraps, $gain * $left, $gain * $right);
            if (null !== $voice) {
                $voices[] = $voice;
            }
        }

        return $voices;
    }

    /**
     * The longest that a sound goes on that is struck in one of the passages, in frames.
     *
     * @param list<Passage> $passages
     */
    private function longestFrames(array $passages): int
    {
        $beats = [$this->beat, ...(new AsStruck($this->beat))->extremes()];

        return max(array_map(fn (Beat $beat): int => $this->longestIn($beat, $passages), $beats));
    }

    /** @param list<Passage> $passages */
    private function longestIn(Beat $beat, array $passages): int
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
            $keys = ($beat->parts[$part] ?? null)?->keys;
            if (null === $keys) {
                continue;
            }
            foreach ($keys->zones as $zone) {
                $cents = max(-100 * Zone::REACH, 100 * max($pitch, $zone->lowKey) - $zone->rootCents + $zone->sound->tuneCents) + $keys->tuneCents;
                $longest = max($longest, Contour::frames($zone->sound->delayMs) + $this->lasting($this->stretchedZone($zone->sound, $beat->sound($zone->sound->sample), $cents)[2], $keys->treatment));
            }
        }
        $pads = array_intersect_key($beat->kit->pads, array_replace([], ...array_values($struck)));
        foreach ($pads as $pad) {
            $pads += array_intersect_key($beat->kit->pads, array_flip($pad->along));
        }
        foreach (array_keys($pads) as $id) {
            $pad = $beat->soundingPad((string) $id) ?? $beat->pad((string) $id);
            foreach ($pad->layers as $layer) {
                $longest = max($longest, Contour::frames($layer->delayMs) + $this->lasting($this->played($layer, $pad->tuneCents + $layer->tuneCents)[2], $pad->treatment));
            }
        }

        return $longest;
    }

    /**
     * The longest that one of them is held, with its release: what goes round inside may last as long as it is held.
     *
     * @param list<Strike> $strikes
     */
    private function longestHeld(array $strikes): int
    {
        $longest = 0;
        foreach ($strikes as $strike) {
            $sound = $strike->sound;
            if ($sound instanceof Keys ? $sound->lastsAsHeld() : PlayMode::Held === $sound->mode) {
                $layers = $sound instanceof Keys ? array_column($sound->zones, 'sound') : $sound->layers;
                $delay = max([0.0, ...array_column($layers, 'delayMs')]);
                $longest = max($longest, $this->beat->tempo->frames(min($strike->ticks, 1e12), Beat::SAMPLE_RATE) + Contour::frames($sound->treatment->amp->releaseMs + $delay));
            }
        }

        return $longest + Voice::CHOKE_FADE;
    }

    /** Frames of a sound with what its treatment adds to it. */
    private function lasting(int $frames, Treatment $treatment): int
    {
        $motion = Shaping::of($treatment, 127, 0.0, 0.0, $this->beat->tempo)?->motion;

        return (null === $motion ? $frames : $motion->framesFor($frames)) + Contour::frames($treatment->amp->releaseMs);
    }

    /** @return array{string, int, int} the sound to be read, its first frame and its frames, to its end */
    private function played(Layer $layer, int $tuneCents): array
    {
        $name = implode(' ', [$layer->sample, $layer->start, $layer->end, $tuneCents, (int) $layer->reversed]);
        if (!isset($this->stretches[$name])) {
            [$sound, $start, $end] = $this->beat->stretchOf($layer);
            $this->stretches[$name] = $this->stretchOf($sound, $start, $end, $tuneCents);
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
    private function pitched(Keys $keys, Zone $zone, int $cents): array
    {
        if ($keys->even && 0 !== $cents && !$zone->sound->reversed) {
            $sound = $this->beat->pitched($zone->sound->sample, $cents);
            if ($this->sounds->playable($sound, $zone->sound->start) === $sound) {
                return [$sound, 0];
            }
        }

        return [$this->beat->sound($zone->sound->sample), $cents];
    }

    /** The stretch that goes round while a note is held, in frames from where its voice is at full level. */
    private function round(?int $loopStart, ?int $loopEnd, string $sample, int $cents, int $from): ?Round
    {
        if (null === $loopStart || null === $loopEnd) {
            return null;
        }
        $stretch = $this->sounds->stretch($sample, $cents);
        $start = max(0, (int) round($loopStart * $stretch) - $from);

        return new Round($start, max($start + 2, (int) round($loopEnd * $stretch) - $from));
    }

    /** From the note before, where notes come one at a time. */
    private static function glide(Keys $keys, int $pitch, ?int $before): ?Glide
    {
        $frames = (int) round($keys->glideMs * Beat::SAMPLE_RATE / 1000);

        return !$keys->single || $frames < 1 || null === $before || $before === $pitch ? null : new Glide(100.0 * ($before - $pitch), $frames);
    }
}
