<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Mix\Limiter;
use Pestle\Core\Mix\RecordingSum;
use Pestle\Core\Song\Part;

/**
 * The way from voices to the finished mix, segment after segment: pads → strips → groups → master → limiter.
 * Every stage's segment is known by a key made of all it depends on, and taken from the cache when it is there.
 * The limiter looks ahead, so each segment comes out one step after it went in.
 */
final class MixChain
{
    /** Changes when the same beat would sound different. */
    private const ENGINE = 'pestle-4';

    /** @var array<string, Strip> by channel */
    private array $strips = [];
    /** @var array<string, Bus> by group */
    private array $groups = [];
    private readonly Bus $master;
    private readonly Limiter $limiter;
    private readonly string $limiterSignature;
    /** @var array<string, list<float>> */
    private array $states = [];
    /** @var array<string, list<float>> what they were before the segment that is on its way */
    private array $before = [];
    private ?Pending $pending = null;
    private readonly VoiceRenderer $voices;
    private readonly ?StemSplitter $splitter;
    /** Whether only the mix is wanted, and wanted once: then recordings go straight into the sum. */
    private readonly bool $straight;
    /** @var array<string, RecordingSum> what went straight into a segment's sum, by group or "master" */
    private array $sums = [];

    /** @param array<string, string>|null $stems name of the stem of every pad, or null when none are wanted */
    public function __construct(Beat $beat, PadSounds $sounds, private readonly SegmentCache $cache, ?array $stems = null)
    {
        $rate = (float) Beat::SAMPLE_RATE;
        $mixer = $beat->mixer;
        foreach ($mixer->channels as $id => $channel) {
            if ($mixer->isHeard($channel)) {
                $sources = [
                    ...array_keys(array_filter($beat->kit->pads, static fn (Pad $pad): bool => $pad->channel === $id)),
                    ...array_keys(array_filter($beat->parts, static fn (Part $part): bool => $part->keys?->channel === $id)),
                ];
                $this->strips[$id] = new Strip($channel, array_map(strval(...), $sources), $rate);
                $this->states[$id] = $this->strips[$id]->rest();
            }
        }
        foreach ($mixer->groups as $id => $group) {
            $this->groups[$id] = new Bus($group->compressor, $group->gainDb, $group->fader, $rate);
            $this->states['group '.$id] = $this->groups[$id]->rest();
        }
        $this->master = new Bus($mixer->master->compressor, $mixer->master->gainDb, $mixer->master->fader, $rate);
        $this->states['master'] = $this->master->rest();
        $this->limiter = new Limiter($mixer->master->ceilingDb, $rate);
        $this->limiterSignature = 'limiter '.$mixer->master->ceilingDb;
        $this->states['limiter'] = $this->limiter->rest();
        $this->voices = new VoiceRenderer($sounds);
        $this->straight = null === $stems && $cache->keepsNothing();
        $this->splitter = null === $stems ? null : new StemSplitter($this->voices, $this->strips, $this->groups, $this->master, $stems);
    }

    /** All that decides what comes out from here on, but for the segments to come. */
    public function fingerprint(): string
    {
        return self::hash([$this->pending->key ?? '', ...array_map(self::packed(...), $this->states)]);
    }

    /**
     * What a chain needs to go on with the segment after the moment given last: small, and of no use for another beat.
     *
     * @return array<string, list<float>>
     */
    public function states(): array
    {
        return [...$this->before, 'limiter' => $this->states['limiter']];
    }

    /**
     * Goes on from there; what has another equalizer or compressor by now begins at rest.
     *
     * @param array<string, list<float>> $states
     */
    public function goOnWith(array $states): void
    {
        foreach ($this->states as $id => $state) {
            if (\count($states[$id] ?? []) === \count($state)) {
                $this->states[$id] = $states[$id] ?? [];
            }
        }
    }

    /** Takes the next segment in and gives the one before it, if there was one. */
    public function advance(Segment $segment): ?Moment
    {
        $this->before = $this->states;
        $next = $this->toMaster($segment);
        $finished = null === $this->pending ? null : $this->limit($this->pending, $next);
        $this->pending = $next;

        return $finished;
    }

    /** Gives the last segment, followed by silence. */
    public function finish(): ?Moment
    {
        if (null === $this->pending) {
            return null;
        }
        $finished = $this->limit($this->pending, null);
        $this->pending = null;

        return $finished;
    }

    private function toMaster(Segment $segment): Pending
    {
        $strips = $keys = $reductions = $this->sums = [];
        foreach ($this->strips as $id => $strip) {
            [$keys[$id], $strips[$id]] = $this->strip($strip, $segment);
            $this->states[$id] = $strips[$id]->state;
            $reductions[$id] = $strips[$id]->reduction;
        }
        $groups = $direct = [];
        foreach ($this->strips as $id => $strip) {
            if (isset($this->groups[$strip->channel->group ?? ''])) {
                $groups[$strip->channel->group][] = $id;
            } else {
                $direct[] = $id;
            }
        }
        $sumKeys = array_map(static fn (string $id): string => $keys[$id], $direct);
        $busses = [];
        foreach ($groups as $id => $members) {
            [$sumKeys[], $busses[$id]] = $this->bus(
                'group '.$id,
                $this->groups[$id],
                array_map(static fn (string $member): string => $keys[$member], $members),
                fn (): StereoBlock => $this->sum('group '.$id, $members, $strips, [], $segment->frames),
                $segment,
            );
            $reductions[$id] = $busses[$id]->reduction;
        }
        [$key, $master] = $this->bus('master', $this->master, $sumKeys, fn (): StereoBlock => $this->sum('master', $direct, $strips, $busses, $segment->frames), $segment);
        $reductions['master'] = $master->reduction;

        return new Pending($segment, $key, $master, [...$strips, ...$busses], $reductions, $this->splitter?->split($segment, $strips, $busses, $master) ?? []);
    }

    /** @return array{string, Rendered} key after the fader, and the sound before it */
    private function strip(Strip $strip, Segment $segment): array
    {
        $state = $this->states[$strip->channel->id];
        $played = [];
        foreach ($strip->pads as $pad) {
            foreach ($segment->voices[$pad] ?? [] as [$voice, $start]) {
                $played[] = $voice->signature.' '.$start;
            }
        }
        $key = self::hash([self::ENGINE, $strip->signature, $segment->frames, ...$played, self::packed($state)]);
        $rendered = $this->straight ? $this->intoSum($strip, $segment, $state) : $this->cache->find($key);
        if (null === $rendered) {
            $parts = [];
            foreach ($strip->pads as $pad) {
                $block = $this->voices->render($segment->voices[$pad] ?? [], $segment->frames);
                if (null !== $block) {
                    $parts[] = $block;
                }
            }
            $dry = [] === $parts ? null : Gain::sum($parts, $segment->frames);
            $rendered = $strip->process($dry, $segment->frames, $state);
            $this->cache->keep($key, $rendered, true);
        }

        return [self::hash([$key, (string) $strip->gainLeft, (string) $strip->gainRight]), $rendered];
    }

    /**
     * @param list<float> $state
     *
     * @return Rendered|null null when the strip does not play one recording throughout
     */
    private function intoSum(Strip $strip, Segment $segment, array $state): ?Rendered
    {
        if (!$strip->takesRecordings($segment->frames)) {
            return null;
        }
        $voices = array_merge(...array_map(static fn (string $pad): array => $segment->voices[$pad] ?? [], $strip->pads));
        $recording = $this->voices->recording($voices, $segment->frames);
        if (null === $recording) {
            return null;
        }
        $group = $strip->channel->group ?? '';
        $bus = isset($this->groups[$group]) ? 'group '.$group : 'master';

        return $strip->add($recording, $segment->frames, $state, $this->sums[$bus] ??= new RecordingSum($segment->frames));
    }

    /**
     * @param list<string>            $inputs keys of what is summed
     * @param callable(): StereoBlock $sum
     *
     * @return array{string, Rendered}
     */
    private function bus(string $name, Bus $bus, array $inputs, callable $sum, Segment $segment): array
    {
        sort($inputs);
        $key = self::hash([self::ENGINE, $bus->signature, $segment->frames, ...$inputs, self::packed($this->states[$name])]);
        $rendered = $this->cache->find($key);
        if (null === $rendered) {
            $rendered = $bus->process($sum(), $segment->frames, $this->states[$name]);
            $this->cache->keep($key, $rendered, false);
        }
        $this->states[$name] = $rendered->state;

        return [$key, $rendered];
    }

    /**
     * Channels after their faders, and busses.
     *
     * @param string                  $bus    "group …" or "master"
     * @param list<string>            $ids
     * @param array<string, Rendered> $strips
     * @param array<string, Rendered> $busses
     */
    private function sum(string $bus, array $ids, array $strips, array $busses, int $frames): StereoBlock
    {
        $parts = $gains = [];
        foreach ($ids as $id) {
            if (!$strips[$id]->isSilent()) {
                $parts[] = $strips[$id]->block();
                $gains[] = [$this->strips[$id]->gainLeft, $this->strips[$id]->gainRight];
            }
        }
        foreach ([...$busses, ...isset($this->sums[$bus]) ? [$this->sums[$bus]] : []] as $part) {
            $parts[] = $part->block();
            $gains[] = [1.0, 1.0];
        }

        return Gain::sum($parts, $frames, $gains);
    }

    private function limit(Pending $pending, ?Pending $next): Moment
    {
        $state = $this->states['limiter'];
        $key = self::hash([self::ENGINE, $this->limiterSignature, $pending->key, $next->key ?? 'end', self::packed($state)]);
        $mix = [] === $pending->stems ? $this->cache->find($key) : null;
        $curve = null;
        if (null === $mix) {
            $block = $pending->master->block();
            $ahead = null === $next ? StereoBlock::silence(Limiter::NEEDS) : self::head($next->master);
            [$curve, $after] = $this->limiter->gain($block, $ahead, $state);
            $mix = Rendered::of(Gain::curve($block, $curve), $pending->segment->frames, $after, null === $curve || [] === $curve ? null : new GainCurve(min($curve), []));
            $this->cache->keep($key, $mix, true);
        }
        $this->states['limiter'] = $mix->state;
        // Where the limiter rests, stems pass as they are.
        $stems = null === $curve ? $pending->stems : Telescope::split(
            $pending->stems,
            $pending->segment->frames,
            static fn (StereoBlock $sum): StereoBlock => Gain::curve($sum, $curve),
        );

        return new Moment($pending->segment, $key, $mix, $pending->levels, [...$pending->reductions, 'limiter' => $mix->reduction], $stems);
    }

    private static function head(Rendered $next): StereoBlock
    {
        $block = $next->block()->slice(0, Limiter::NEEDS);

        return Limiter::NEEDS === $block->frames() ? $block : $block->append(StereoBlock::silence(Limiter::NEEDS - $block->frames()));
    }

    /** @param list<float> $state */
    private static function packed(array $state): string
    {
        return pack('e*', ...$state);
    }

    /** @param array<string|int> $parts */
    private static function hash(array $parts): string
    {
        return hash('xxh128', implode("\n", $parts));
    }
}
