<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Route;
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
    private readonly Stretches $stretches;
    private readonly Lasting $lasting;

    public function __construct(private readonly Beat $beat, private readonly PadSounds $sounds)
    {
        $this->strikes = new StrikePlanner($beat);
        $this->placing = new Placing($beat, $sounds);
        $this->clips = new ClipVoices($beat, $sounds);
        $this->stretches = new Stretches($beat, $sounds);
        $this->lasting = new Lasting($beat, $this->stretches);
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

        return new LoopVoices($this, $strikes, $cuts, $before, $this->clips->of($passage, 0, $time, true), max(1, $frames), max($this->lasting->longestFrames([$passage]), $this->lasting->longestHeld($strikes)));
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
        $reach = $this->lasting->longestFrames(array_column($sections, 0));
        $strikes = $said = $pitches = [];
        $seen = 0;
        foreach ($sections as $pass => [, $start, $frames, , $time]) {
            for (; $seen < \count($sections) && ($seen <= $pass || $sections[$seen][1] <= $start + $frames + $reach); ++$seen) {
                $strikes[$seen] = $this->strikes->of($sections[$seen][0], $sections[$seen][1], $sections[$seen][2], $seen, $sections[$seen][4], null === $sections[$seen][3] ? [] : [$sections[$seen][3]]);
                $said[$seen] = Silencing::said($strikes[$seen]);
                // What is held goes on as long as its note says, which no recording ends.
                $reach = max($reach, $this->lasting->longestHeld($strikes[$seen]));
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

        $keys = Route::at($keys, $pitch, $velocity, 0.5, 0.0);

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

    /** @return list<Voice> of an instrument and of what is stacked on it */
    private function keysVoices(Keys $keys, Strike $strike, ?int $cut, bool $wraps, ?int $before = null): array
    {
        $voices = [];
        foreach ($keys->all() as $one) {
            $share = $one->blend->share($strike->pitch, $one->low, $one->high, $strike->velocity);
            if ($share > 0.0) {
                array_push($voices, ...$this->stackedVoices($one, $strike, $share, $cut, $wraps, self::glide($keys, $strike->pitch, $before)));
            }
        }

        return $voices;
    }

    /** @return list<Voice> */
    private function stackedVoices(Keys $keys, Strike $strike, float $share, ?int $cut, bool $wraps, ?Glide $glide): array
    {
        $voices = [];
        $frame = $strike->frame + Contour::frames($keys->blend->delayMs);
        $level = $share * self::velocityGain($strike->velocity, $keys->strength);
        $key = 100.0 * ($strike->pitch - self::MIDDLE);
        foreach ($keys->answering($strike->pitch, $strike->velocity, $strike->turn) as $zone) {
            $ticks = $keys->held ? $strike->ticks : null;
            $shaping = Shaping::of($keys->treatment, $this->atStrike($strike, $key, $ticks), $zone->sound->pan);
            $gain = Decibels::toGain($keys->levelDb + $zone->sound->levelDb) * $level;
            [$left, $right] = true === $shaping?->swings() ? [1.0, 1.0] : Panning::gains($zone->sound->pan);
            $voices[] = $this->placing->voice($this->zoneSounding($keys, $zone, $strike->pitch, $glide, $shaping), $frame + Contour::frames($zone->sound->delayMs), $ticks, $keys->treatment, true, $cut, $wraps, $gain * $left, $gain * $right);
        }
        if ([] !== $keys->waves) {
            $shaping = Shaping::of($keys->treatment, $this->atStrike($strike, $key, $strike->ticks), 0.0);
            $gain = Decibels::toGain($keys->levelDb) * $level;
            $note = new MadeNote($keys->waves, $strike->pitch, $strike->velocity, $keys->tuneCents);
            $voices[] = $this->placing->voice(new Sounding($note->name, 0, 0, MadeNote::FRAMES, null, $glide, $shaping, $note), $frame, $strike->ticks, $keys->treatment, true, $cut, $wraps, $gain, $gain);
        }

        return array_values(array_filter($voices));
    }

    /** @param float|null $ticks until it is let go; null where that does nothing */
    private function atStrike(Strike $strike, float $keyCents, ?float $ticks): AtStrike
    {
        $held = null === $ticks || $ticks > 1e12 ? null : $this->beat->tempo->frames($ticks, Beat::SAMPLE_RATE);

        return new AtStrike($strike->velocity, $keyCents, $strike->tempo ?? $this->beat->tempo, $strike->frame, $held, $strike->slides, $strike->drifts);
    }

    private function zoneSounding(Keys $keys, Zone $zone, int $pitch, ?Glide $glide, ?Shaping $shaping): Sounding
    {
        [$sound, $cents] = $this->stretches->pitched($keys, $zone, ($zone->tuneCents($pitch) ?? 0) + $keys->tuneCents);
        [$sample, $from, $length] = $this->stretches->ofZone($zone->sound, $sound, $cents);
        $round = $keys->held ? $this->stretches->round($zone->sound->loopStart, $zone->sound->loopEnd, $sample, $cents, $from) : null;

        return new Sounding($sample, $cents, $from, $length, $round, $glide, $shaping);
    }

    /** @return list<Voice> */
    private function padVoices(Pad $pad, Strike $strike, ?int $cut, bool $wraps): array
    {
        $voices = [];
        foreach ($pad->answering($strike->velocity, $strike->turn) as [$layer, $share]) {
            $tune = $pad->tuneCents + $layer->tuneCents;
            $place = max(-1.0, min(1.0, $pad->pan + $layer->pan));
            $held = PlayMode::Held === $pad->mode;
            $shaping = Shaping::of($pad->treatment, $this->atStrike($strike, (float) $tune, $held ? $strike->ticks : null), $place);
            [$sample, $from, $length] = $this->stretches->played($layer, $tune);
            $round = $held ? $this->stretches->round($layer->loopStart, $layer->loopEnd, $sample, $tune, $from) : null;
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

    /** From the note before, where notes come one at a time. */
    private static function glide(Keys $keys, int $pitch, ?int $before): ?Glide
    {
        $frames = (int) round($keys->glideMs * Beat::SAMPLE_RATE / 1000);

        return !$keys->single || $frames < 1 || null === $before || $before === $pitch ? null : new Glide(100.0 * ($before - $pitch), $frames);
    }
}
