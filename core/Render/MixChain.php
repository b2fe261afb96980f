<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\FixedInserts;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Mix\Limiter;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\RecordingSum;

/**
 * The way from voices to the finished mix, segment after segment: line after line of the mixer, each after what feeds or
 * steers it, then the limiter. What a line makes of a segment is known by a key made of all it depends on, and taken
 * from the cache when it is there. The limiter looks ahead, so each segment comes out one step after it went in; what
 * inserts that look ahead made late is put back to its place then.
 */
final class MixChain
{
    /** Changes when the same beat would sound different. */
    public const ENGINE = 'pestle-8';

    /** Among the states of lines; no line can be called so. */
    private const LIMITER = ' limiter';

    private readonly Routing $routing;
    private readonly Lines $lines;
    private readonly Limiter $limiter;
    private readonly string $limiterSignature;
    /** @var array<string, list<InsertState>> by line */
    private array $states = [];
    /** @var array<string, list<InsertState>> what they were before the segment that is on its way */
    private array $before = [];
    private ?Pending $pending = null;
    private readonly Waits $waits;
    private readonly VoiceRenderer $voices;
    private readonly ?StemSplitter $splitter;
    /** Whether only the mix is wanted, and wanted once: then recordings go straight into the sum. */
    private readonly bool $straight;
    /** @var array<string, RecordingSum> what went straight into a segment's sum, by the line it belongs to */
    private array $sums = [];

    /**
     * @param array<string, string>|null $stems      name of the stem of every source and of returns with one of their own, or null when none are wanted
     * @param int|null                   $loopFrames length of what goes round; null for what is played once
     */
    public function __construct(private readonly Beat $beat, PadSounds $sounds, private readonly SegmentCache $cache, ?array $stems = null, ?int $loopFrames = null)
    {
        $this->routing = new Routing($beat);
        $this->lines = new Lines($beat, $loopFrames);
        $this->waits = new Waits($beat, $this->routing);
        foreach ($this->routing->order as $id) {
            $this->states[$id] = [...$this->lines->still($id)->inserts->rest(), ...$this->waits->rest($id)];
        }
        $this->limiter = new Limiter($beat->mixer->master->ceilingDb, (float) Beat::SAMPLE_RATE, rules: $beat->rules);
        $this->limiterSignature = 'limiter '.$beat->mixer->master->ceilingDb.(0 === $beat->mixer->late() ? '' : ' late '.$beat->mixer->late());
        $this->states[self::LIMITER] = [new InsertState($this->limiter->rest())];
        $this->voices = new VoiceRenderer($sounds);
        $this->straight = null === $stems && $cache->keepsNothing() && $this->waits->areNone();
        $this->splitter = null === $stems ? null : new StemSplitter($this->voices, $this->routing, $this->lines, $this->waits, $stems);
    }

    /** All that decides what comes out from here on, but for the segments to come. */
    public function fingerprint(): string
    {
        return self::hash([$this->pending->key ?? '', ...array_map(self::packed(...), $this->states)]);
    }

    /**
     * What a chain needs to go on with the segment after the moment given last: small, and of no use for another beat.
     *
     * @return array<string, list<InsertState>>
     */
    public function states(): array
    {
        return [...$this->before, self::LIMITER => $this->states[self::LIMITER]];
    }

    /**
     * Goes on from there; lines with other inserts by now begin at rest.
     *
     * @param array<string, list<InsertState>> $states
     */
    public function goOnWith(array $states): void
    {
        foreach ($this->states as $id => $state) {
            $known = $states[$id] ?? [];
            // The limiter's is as long as what it has to remember.
            if ([] !== $known && (self::LIMITER === $id || self::sizes($known) === self::sizes($state))) {
                $this->states[$id] = $known;
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
        $lines = $keys = $rendered = $this->sums = [];
        foreach ($this->routing->order as $id) {
            $lines[$id] = $this->lines->at($id, $segment);
            [$keys[$id], $rendered[$id]] = $this->line($id, $lines, $keys, $rendered, $segment);
            foreach ($this->cache->keepsNothing() ? [] : $this->states[$id] as $state) {
                $state->memory?->wait();
            }
            $this->states[$id] = $rendered[$id]->states;
        }
        $master = $lines[Master::ID]->fader;

        return new Pending(
            $segment,
            $keys[Master::ID].' '.$master->signature,
            $rendered[Master::ID],
            $master,
            array_diff_key($rendered, [Master::ID => true]),
            $this->reductions($rendered),
            $this->splitter?->split($segment, $lines, $rendered) ?? [],
        );
    }

    /**
     * @param non-empty-array<string, Line> $lines    up to this one
     * @param array<string, string>         $keys     of those before it
     * @param array<string, Rendered>       $rendered likewise
     *
     * @return array{string, Rendered} key, and the sound before the fader
     */
    private function line(string $id, array $lines, array $keys, array $rendered, Segment $segment): array
    {
        $line = $lines[$id];
        $inputs = [];
        foreach ($this->routing->sources[$id] ?? [] as $source) {
            foreach ($segment->voices[$source] ?? [] as [$voice, $start]) {
                $inputs[] = $voice->signature.' '.$start;
            }
        }
        $feeds = [];
        foreach ($this->routing->feeds[$id] ?? [] as [$from, $send]) {
            $fader = '' === $send ? $lines[$from]->fader : $lines[$from]->sends[$send];
            $feeds[] = [$from, $fader, Waits::from($from, $send)];
            $inputs[] = $keys[$from].' '.$fader->signature;
        }
        $steering = array_map(static fn (string $key): string => 'key '.$key.' '.($keys[$key] ?? ''), $line->keys);
        $key = self::hash([self::ENGINE, $line->signature, $segment->frames, $line->goesByTime ? 'at '.$segment->start : '', ...$inputs, ...$steering, $this->cache->keepsNothing() ? '' : self::packed($this->states[$id])]);
        $found = $this->straight ? $this->intoSum($id, $line, $segment) : $this->cache->find($key);
        if (null === $found) {
            $own = \count($line->inserts->rest());
            $waiting = $this->waits->of($id, \array_slice($this->states[$id], $own));
            $heard = [];
            foreach (array_intersect_key($rendered, array_flip($line->keys)) as $by => $sound) {
                $heard[$by] = $waiting->later(Waits::key((string) $by), $sound->isSilent() ? null : $sound->block(), $segment->frames);
            }
            $in = $this->input($id, $feeds, $rendered, $segment, $waiting);
            $processed = $line->inserts->process(null === $in ? null : $line->before->apply($in), $segment->frames, array_filter($heard), \array_slice($this->states[$id], 0, $own), $segment->start);
            $found = Rendered::of($processed->sound, $segment->frames, [...$processed->states, ...$waiting->states()], $processed->curves);
            // Sound of pads costs more to make than to read.
            $this->cache->keep($key, $found, isset($this->routing->sources[$id]) && 0 === $found->remembered());
        }

        return [$key, $found];
    }

    /**
     * What goes into a line: its own voices, and other lines behind their faders.
     *
     * @param list<array{string, Fader, string}> $feeds    line, fader, and its way in
     * @param array<string, Rendered>            $rendered
     */
    private function input(string $id, array $feeds, array $rendered, Segment $segment, Waiting $waiting): ?StereoBlock
    {
        $parts = $gains = [];
        foreach ($this->routing->sources[$id] ?? [] as $source) {
            $block = $this->voices->render($segment->voices[$source] ?? [], $segment->frames);
            if (null !== $block) {
                $parts[] = $block;
                $gains[] = [1.0, 1.0];
            }
        }
        if ($this->waits->frames($id, 'voices') > 0) {
            $parts = array_values(array_filter([$waiting->later('voices', [] === $parts ? null : Gain::sum($parts, $segment->frames), $segment->frames)]));
            $gains = array_fill(0, \count($parts), [1.0, 1.0]);
        }
        foreach ($feeds as [$from, $fader, $way]) {
            if ($this->waits->frames($id, $way) > 0) {
                $block = $waiting->later($way, $rendered[$from]->isSilent() ? null : $fader->apply($rendered[$from]->block()), $segment->frames);
                $parts = [...$parts, ...array_filter([$block])];
                $gains = array_pad($gains, \count($parts), [1.0, 1.0]);
            } elseif (!$rendered[$from]->isSilent()) {
                $block = $rendered[$from]->block();
                $parts[] = $fader->isFixed() ? $block : $fader->apply($block);
                $gains[] = $fader->isFixed() ? [$fader->left, $fader->right] : [1.0, 1.0];
            }
        }
        if (isset($this->sums[$id])) {
            $parts[] = $this->sums[$id]->block();
            $gains[] = [1.0, 1.0];
        }

        return [] === $parts ? null : Gain::sum($parts, $segment->frames, $gains);
    }

    /** @return Rendered|null without sound of its own; null when the line does not play one recording throughout, or more is wanted of it than that it be added to its output */
    private function intoSum(string $id, Line $line, Segment $segment): ?Rendered
    {
        $sources = $this->routing->sources[$id] ?? [];
        $straight = $line->inserts instanceof FixedInserts ? $line->inserts->straight() : null;
        if (null === $straight || [] === $sources || [] !== $line->sends || isset($this->routing->feeds[$id]) || isset($this->routing->steering[$id])
            || !$line->fader->isFixed() || 1.0 !== $line->before->left || !$line->before->isFixed() || 0 !== $segment->frames % RecordingSum::FRAMES) {
            return null;
        }
        $recording = $this->voices->recording(array_merge(...array_map(static fn (string $source): array => $segment->voices[$source] ?? [], $sources)), $segment->frames);
        if (null === $recording) {
            return null;
        }
        [$bytes, $left, $right] = $recording;
        $to = $this->beat->mixer->outputOf($this->beat->mixer->nodes[$id])->id ?? Master::ID;
        $sum = $this->sums[$to] ??= new RecordingSum($segment->frames);
        [$state, $curve] = $sum->add($bytes, [$left, $right, $line->fader->left, $line->fader->right], $straight[0], $straight[1], $line->inserts->straightState($this->states[$id]));

        return Rendered::of(null, $segment->frames, $line->inserts->withStraightState($state), [$straight[2] => $curve]);
    }

    private function limit(Pending $pending, ?Pending $next): Moment
    {
        $states = $this->states[self::LIMITER];
        $key = self::hash([self::ENGINE, $this->limiterSignature, $pending->key, $next->key ?? 'end', self::packed($states)]);
        $mix = [] === $pending->stems ? $this->cache->find($key) : null;
        $curve = null;
        if (null === $mix) {
            $block = $this->inPlace($pending->block(), $next?->block());
            $ahead = $this->ahead($next);
            [$curve, $after] = $this->limiter->gain($block, $ahead, $states[0]->numbers);
            $mix = Rendered::of(Gain::curve($block, $curve), $pending->segment->frames, [new InsertState($after)], null === $curve ? [] : [GainCurve::along($curve)]);
            $this->cache->keep($key, $mix, true);
        }
        $this->states[self::LIMITER] = $mix->states;
        $stems = [];
        foreach ($pending->stems as $name => $stem) {
            $stems[$name] = $this->inPlace($stem, $next->stems[$name] ?? null);
        }
        // Where the limiter rests, stems pass as they are.
        $stems = null === $curve ? $stems : Telescope::split(
            $stems,
            $pending->segment->frames,
            static fn (StereoBlock $sum): StereoBlock => Gain::curve($sum, $curve),
        );

        return new Moment($pending->segment, $key, $mix, $pending->levels, [...$pending->reductions, 'limiter' => $mix->reductions[0] ?? []], $stems);
    }

    /** Sound that came late, where it belongs. */
    private function inPlace(StereoBlock $block, ?StereoBlock $next): StereoBlock
    {
        $late = $this->beat->mixer->late();
        if (0 === $late) {
            return $block;
        }
        $rest = null === $next ? StereoBlock::silence($late) : $next->slice(0, $late);
        $whole = $block->append($rest->frames() < $late ? $rest->append(StereoBlock::silence($late - $rest->frames())) : $rest);

        return $whole->slice($late, $block->frames());
    }

    /** What follows a segment, as far as the limiter wants it. */
    private function ahead(?Pending $next): StereoBlock
    {
        $block = null === $next ? StereoBlock::silence(0) : $next->block()->slice($this->beat->mixer->late(), Limiter::NEEDS);

        return Limiter::NEEDS === $block->frames() ? $block : $block->append(StereoBlock::silence(Limiter::NEEDS - $block->frames()));
    }

    /**
     * @param array<string, Rendered> $rendered
     *
     * @return array<string, list<float>> by line and insert
     */
    private function reductions(array $rendered): array
    {
        $reductions = [];
        foreach ($rendered as $id => $one) {
            foreach ($one->reductions as $i => $reduction) {
                $reductions[$id.'/'.$this->beat->mixer->line($id)?->inserts[$i]->id()] = $reduction;
            }
        }

        return $reductions;
    }

    /**
     * @param list<InsertState> $states
     *
     * @return list<int>
     */
    private static function sizes(array $states): array
    {
        return array_map(static fn (InsertState $s): int => \count($s->numbers), $states);
    }

    /** @param list<InsertState> $states */
    private static function packed(array $states): string
    {
        return implode('', array_map(static fn (InsertState $state): string => $state->name(), $states));
    }

    /** @param array<string|int> $parts */
    private static function hash(array $parts): string
    {
        return hash('xxh128', implode("\n", $parts));
    }
}
