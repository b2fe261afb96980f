<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;

/**
 * Answers questions for sound: a loop, a stretch of the whole beat, a struck pad. Sound travels as
 * interleaved little-endian 32-bit integers of 2^-23, and only the segments the asker does not have yet.
 */
final class Engine
{
    private const REMEMBERED = 24;
    /** Longest sound of a struck pad, in seconds. */
    private const STRUCK_SECONDS = 30;

    private readonly PadSounds $sounds;
    private readonly Renderer $renderer;
    /** @var array<string, array{int, list<string>}> length and keys of the segments of what was sent, by its name */
    private array $sent = [];
    private ?SongReader $song = null;

    public function __construct(SampleLibrary $library, private readonly SegmentCache $cache, int $sampleFrames = 2_500_000)
    {
        $this->sounds = new PadSounds($library, Beat::SAMPLE_RATE, $sampleFrames);
        $this->renderer = new Renderer($this->sounds, $cache);
    }

    /**
     * @param array<string, mixed> $request "op" and what it needs
     *
     * @return array{array<string, mixed>, string} an answer and its sound
     */
    public function answer(array $request): array
    {
        try {
            return $this->answered($request);
        } catch (NotMadeYet) {
            // It was there and was cleared away since: now it is planned with what stands for it.
            $this->sounds->forgetReady();
            $this->song = null;

            return $this->answered($request);
        }
    }

    /**
     * @param array<string, mixed> $request
     *
     * @return array{array<string, mixed>, string}
     *
     * @throws NotMadeYet
     */
    private function answered(array $request): array
    {
        $text = static fn (string $field): string => \is_string($request[$field] ?? null) ? $request[$field] : '';
        try {
            [$answer, $sound] = match ($text('op')) {
                'loop' => $this->loop(BeatCodec::decode($text('beat')), $text('pattern'), $text('have')),
                'song' => $this->song($text('beat'), \is_int($request['from'] ?? null) ? $request['from'] : 0, \is_int($request['count'] ?? null) ? $request['count'] : 8),
                'pad' => $this->pad(BeatCodec::decode($text('beat')), $text('pad'), \is_int($request['velocity'] ?? null) ? $request['velocity'] : 127),
                'ping' => [['pid' => getmypid()], ''],
                default => [['error' => 'The engine knows loop, song, pad and ping.'], ''],
            };

            return [[...$answer, 'working' => array_map(static fn (NotMadeYet $m): array => [$m->sound, $m->progress], $this->sounds->missing())], $sound];
        } catch (NotMadeYet $e) {
            throw $e;
        } catch (InvalidChange|\RuntimeException $e) {
            return [['error' => $e->getMessage()], ''];
        }
    }

    /** Whether there is something to do while nobody asks. */
    public function hasChores(): bool
    {
        return $this->cache->hasUnsaved();
    }

    public function chore(): void
    {
        $this->cache->save();
    }

    /** @return array{array<string, mixed>, string} */
    private function loop(Beat $beat, string $pattern, string $have): array
    {
        $plan = Plan::loop($beat, $pattern, $this->sounds);
        $moments = $this->renderer->loop($plan);
        $keys = array_map(static fn (Moment $m): string => $m->key, $moments);
        [$length, $known] = $this->sent[$have] ?? [0, []];
        // A loop of another length is sent whole: its segments lie elsewhere.
        $known = $length === $plan->frames ? $known : [];
        $changed = [];
        $sound = '';
        foreach ($moments as $i => $moment) {
            if (($known[$i] ?? '') !== $keys[$i]) {
                $changed[] = [$moment->segment->start, $moment->segment->frames];
                $sound .= self::pcm($moment->mix);
            }
        }
        $name = hash('xxh128', implode('', $keys));
        $this->sent[$name] = [$plan->frames, $keys];
        if (\count($this->sent) > self::REMEMBERED) {
            array_shift($this->sent);
        }

        return [[
            'render' => $name,
            'patch' => [] !== $known,
            'frames' => $plan->frames,
            'rate' => Beat::SAMPLE_RATE,
            'ticks' => $beat->pattern($pattern)->lengthTicks(),
            'changed' => $changed,
            'meters' => Meters::of($moments, $beat),
        ], $sound];
    }

    /** @return array{array<string, mixed>, string} */
    private function song(string $json, int $from, int $count): array
    {
        if (null === $this->song || !$this->song->continues($json, $from)) {
            $this->song = new SongReader($json, $this->renderer, $this->sounds);
        }
        [$moments, $ended] = $this->song->read($from, min(64, max(1, $count)));
        $sound = '';
        foreach ($moments as $moment) {
            $sound .= self::pcm($moment->mix);
        }

        return [[
            'rate' => Beat::SAMPLE_RATE,
            'start' => [] === $moments ? 0 : $moments[0]->segment->start,
            'frames' => \strlen($sound) >> 3,
            'next' => $ended ? null : $from + \count($moments),
            'music' => $this->song->musicFrames(),
            'meters' => Meters::of($moments, BeatCodec::decode($json)),
        ], $sound];
    }

    /**
     * A pad struck, through its channel: the sounds that answer a velocity, as loud as it makes them before the compressor.
     *
     * @return array{array<string, mixed>, string}
     */
    private function pad(Beat $beat, string $id, int $velocity): array
    {
        $pad = $beat->pad($id);
        $struck = (new VoicePlanner($beat, $this->sounds))->struck($pad, $velocity);
        $strip = new Strip($beat->channel($pad->channel), [$id], Beat::SAMPLE_RATE);
        $voices = new VoiceRenderer($this->sounds);
        $state = $strip->rest();
        $sound = '';
        $end = min(max(array_map(static fn (Voice $v): int => $v->length, $struck)), self::STRUCK_SECONDS * Beat::SAMPLE_RATE);
        for ($at = 0; $at < $end; $at += Segment::FRAMES) {
            $frames = min(Segment::FRAMES, $end - $at);
            $rendered = $strip->process($voices->render(array_map(static fn (Voice $v): array => [$v, -$at], $struck), $frames), $frames, $state);
            $state = $rendered->state;
            $faded = Gain::sides($rendered->block(), $strip->gainLeft, $strip->gainRight);
            $sound .= self::pcm(Rendered::of($faded, $frames, []));
        }

        return [['rate' => Beat::SAMPLE_RATE, 'frames' => \strlen($sound) >> 3], $sound];
    }

    private static function pcm(Rendered $rendered): string
    {
        return $rendered->packed() ?: str_repeat("\0", 8 * $rendered->frames);
    }
}
