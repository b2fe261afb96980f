<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KnownPatterns;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Stretch;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Song\Entry;

/**
 * Answers questions for sound: a loop, a piece of the whole beat or of a long loop, a struck pad. Sound travels as
 * interleaved little-endian 32-bit integers of 2^-23, and only the segments the asker does not have yet.
 */
final class Engine
{
    /** A loop that lasts longer is played in pieces, as the whole beat is. */
    private const WHOLE_SECONDS = 30;
    private const MOST_READERS = 4;
    /** Struck sounds of which the rest may be asked for. */
    private const MOST_BEGUN = 16;
    /** Segments that are measured for one question: half a minute, so that nobody waits too long for an answer. */
    private const MEASURED_AT_ONCE = 320;

    private readonly PadSounds $sounds;
    private readonly Renderer $renderer;
    private readonly LiveLoudness $loudness;
    private readonly KnownPatterns $patterns;
    private readonly KnownLoops $loops;
    /** @var list<PlanReader> the one used last first */
    private array $readers = [];
    /** @var array<string, Struck> by what was struck; the one used longest ago comes first */
    private array $begun = [];
    /** @var array<string, array{\Generator<int, Moment>, Measured, int}> what is measured in part, by its name, and its frames; the one asked for longest ago comes first */
    private array $measuring = [];

    public function __construct(SampleLibrary $library, private readonly SegmentCache $cache, int $sampleFrames = 2_500_000)
    {
        $this->sounds = new PadSounds($library, Beat::SAMPLE_RATE, $sampleFrames);
        $this->renderer = new Renderer($this->sounds, $cache);
        $this->loudness = new LiveLoudness();
        $this->loops = new KnownLoops($cache->files);
        $this->patterns = new KnownPatterns();
    }

    /**
     * @param array<string, mixed> $request "op" and what it needs
     *
     * @return array{array<string, mixed>, string} an answer and its sound
     */
    public function answer(array $request): array
    {
        $work = $this->work($request);
        while ($work->valid()) {
            $work->next();
        }

        return $work->getReturn();
    }

    /**
     * The way to an answer in steps of about one segment, so that other questions are answered between them.
     *
     * @param array<string, mixed> $request
     *
     * @return \Generator<int, null, mixed, array{array<string, mixed>, string}>
     */
    public function work(array $request): \Generator
    {
        $missing = [];
        for ($try = 1; true; ++$try) {
            try {
                $steps = $this->answered($request);
                for (; $steps->valid(); $steps->next()) {
                    // What a lighter sound stood for belongs to this question: asked before another one goes on.
                    $missing += $this->sounds->missing();
                    yield;
                }
                [$answer, $sound] = $steps->getReturn();
                $missing += $this->sounds->missing();
                // What lighter sounds stood for will be another loop.
                if (isset($answer['patch']) && [] === $missing) {
                    $this->loops->keep(KnownLoops::question(self::text($request, 'beat'), self::text($request, 'what')), self::text($answer, 'render'));
                }

                return [[...$answer, 'working' => array_map(static fn (NotMadeYet $m): array => [$m->sound, $m->progress], array_values($missing))], $sound];
            } catch (NotMadeYet $e) {
                // It was there and was cleared away since: now it is planned with what stands for it.
                $this->sounds->forgetReady();
                $this->readers = [];
                if ($try > 1) {
                    return [['error' => $e->getMessage()], ''];
                }
            } catch (InvalidChange|\RuntimeException $e) {
                return [['error' => $e->getMessage()], ''];
            }
        }
    }

    /**
     * @param array<string, mixed> $request
     *
     * @return \Generator<int, null, mixed, array{array<string, mixed>, string}>
     *
     * @throws NotMadeYet
     */
    private function answered(array $request): \Generator
    {
        $text = static fn (string $field): string => self::text($request, $field);
        $number = static fn (string $field, int $else): int => \is_int($request[$field] ?? null) ? $request[$field] : $else;

        return yield from match ($text('op')) {
            'loop' => $this->loop($text('beat'), $text('what'), $this->loops->sent($text('have'))),
            'piece' => $this->piece($text('beat'), $text('what'), max(0, $number('from', 0)), $number('tick', -1), $number('count', 8)),
            'measure' => $this->measure(BeatCodec::decode($text('beat'), $this->patterns), $text('what')),
            'spectrum' => $this->spectrum(BeatCodec::decode($text('beat'), $this->patterns), $text('what'), '' === $text('lines') ? null : explode(' ', $text('lines'))),
            'pad', 'note' => $this->struck($request, \array_key_exists('piece', $request) ? $number('piece', 0) : null, fn (): Struck => 'pad' === $text('op')
                ? $this->pad(BeatCodec::decode($text('beat'), $this->patterns), $text('pad'), $number('velocity', 127), $number('turn', 0), $text('grade'))
                : $this->note(BeatCodec::decode($text('beat'), $this->patterns), $text('part'), $number('pitch', 60), $number('velocity', 127), $number('turn', 0))),
            default => throw new InvalidChange('The engine knows loop, piece, measure, spectrum, pad and note.'),
        };
    }

    /** @param array<string, mixed> $request */
    private static function text(array $request, string $field): string
    {
        return \is_string($request[$field] ?? null) ? $request[$field] : '';
    }

    /** Whether there is something to do while nobody asks. */
    public function hasChores(): bool
    {
        return $this->cache->hasUnsaved() || $this->loops->hasUnsaved();
    }

    public function chore(): void
    {
        $this->cache->save();
        $this->loops->save();
    }

    /**
     * @param LoopAnswer|null $had what the asker has
     *
     * @return \Generator<int, null, mixed, array{array<string, mixed>, string}>
     */
    private function loop(string $json, string $what, ?LoopAnswer $had): \Generator
    {
        $answer = $this->loops->find(KnownLoops::question($json, $what));
        $sound = null === $answer ? null : yield from $this->kept($answer, $had);
        if (null === $sound) {
            $beat = BeatCodec::decode($json, $this->patterns);
            if (!self::has($beat, $what)) {
                return [['gone' => true], ''];
            }
            $passage = Passage::of($beat, $what, true);
            $time = Timeline::of($beat, $what);
            $frames = $time->frames($passage->ticks, Beat::SAMPLE_RATE);
            $about = ['frames' => $frames, 'rate' => Beat::SAMPLE_RATE, 'ticks' => $passage->ticks, 'places' => $time->places($passage->ticks)];
            if ($frames > self::WHOLE_SECONDS * Beat::SAMPLE_RATE) {
                return [[...$about, 'long' => true, 'render' => hash('xxh128', BeatCodec::encode($beat))], ''];
            }
            [$answer, $sound] = yield from $this->round($beat, $what, $about);
        }
        $this->loops->send($answer);

        return [$answer->told($had), implode('', array_intersect_key($sound, array_flip($answer->lacking($had))))];
    }

    /**
     * @param array{frames: int, rate: int, ticks: int, places: array<array-key, mixed>} $about
     *
     * @return \Generator<int, null, mixed, array{LoopAnswer, array<int, string>}> and its sound by segment
     */
    private function round(Beat $beat, string $what, array $about): \Generator
    {
        $keys = $places = $sound = [];
        $meters = new Meters($beat, $this->loudness);
        foreach ($this->renderer->loop(Plan::loop($beat, $what, $this->sounds)) as $moment) {
            if (null !== $moment) {
                $keys[$moment->segment->index] = $moment->key;
                $places[$moment->segment->index] = [$moment->segment->start, $moment->segment->frames];
                $sound[$moment->segment->index] = $moment->mix->sound();
                $meters->add($moment);
            }
            yield;
        }
        ksort($keys);
        ksort($places);
        ksort($sound);

        return [new LoopAnswer($about, array_values($keys), array_values($places), $meters->all()), $sound];
    }

    /** @return \Generator<int, null, mixed, array<int, string>|null> sound of the segments that someone lacks; null where it is not there any more */
    private function kept(LoopAnswer $answer, ?LoopAnswer $had): \Generator
    {
        $sound = [];
        foreach ($answer->lacking($had) as $i) {
            $segment = $this->cache->find($answer->keys[$i]);
            if (null === $segment) {
                return null;
            }
            $sound[$i] = $segment->sound();
            yield;
        }

        return $sound;
    }

    /**
     * Some segments from one on: of the whole beat, or of a section or pattern that goes round.
     *
     * @param int $tick in whose segment it begins, in place of $from; below 0 for none
     *
     * @return \Generator<int, null, mixed, array{array<string, mixed>, string}>
     */
    private function piece(string $json, string $what, int $from, int $tick, int $count): \Generator
    {
        $beat = BeatCodec::decode($json, $this->patterns);
        if ('' !== $what && !self::has($beat, $what)) {
            return [['gone' => true], ''];
        }
        $from = $tick < 0 ? $from : ('' === $what ? SongPlaces::segmentOf($beat, $tick) : SongPlaces::segmentOfLoop($beat, $what, $tick));
        $reader = $this->reader($beat, hash('xxh128', $what."\n".$json), $what, $from);
        $reader->busy = true;
        try {
            while ($reader->catchUp()) {
                yield;
            }
            $sound = [];
            $start = 0;
            $meters = new Meters($beat, $this->loudness, $reader->recent);
            while (\count($sound) < min(64, max(1, $count)) && null !== $moment = $reader->next()) {
                $start = [] === $sound ? $moment->segment->start : $start;
                $sound[] = $moment->mix->sound();
                $meters->add($moment);
                yield;
            }
        } finally {
            $reader->busy = false;
        }
        $sound = implode('', $sound);

        return [[
            'rate' => Beat::SAMPLE_RATE,
            'from' => $from,
            'start' => $start,
            'frames' => \strlen($sound) >> 3,
            'next' => $reader->hasEnded() ? null : $from + $meters->count(),
            'music' => $reader->musicFrames(),
            'ticks' => '' === $what ? 0 : Passage::of($beat, $what, true)->ticks,
            'meters' => $meters->all(),
        ], $sound];
    }

    /**
     * How loud the whole beat is, or a section once through; of what is long a part, and how far it is: ask again.
     *
     * @return \Generator<int, null, mixed, array{array<string, mixed>, string}>
     */
    private function measure(Beat $beat, string $what): \Generator
    {
        if ('' !== $what && !self::has($beat, $what)) {
            return [['gone' => true], ''];
        }
        $name = hash('xxh128', $what."\n".BeatCodec::encode($beat));
        if (!isset($this->measuring[$name])) {
            $plan = Plan::song($beat, '' === $what ? Passage::song($beat) : [Entry::once($what)], $this->sounds);
            $this->measuring[$name] = [$this->renderer->stream($plan), new Measured($beat), $plan->frames];
        }
        [$moments, $measured, $frames] = $this->measuring[$name];
        // Taken out while it is worked on: what fails or is asked twice begins anew.
        unset($this->measuring[$name]);
        $at = 0;
        for ($count = 0; $moments->valid() && $count < self::MEASURED_AT_ONCE; ++$count, $moments->next()) {
            $measured->add($moments->current());
            $at = $moments->current()->segment->start;
            yield;
        }
        if ($moments->valid()) {
            $this->measuring[$name] = [$moments, $measured, $frames];
            $this->measuring = \array_slice($this->measuring, -self::MOST_READERS, null, true);

            return [['more' => true, 'done' => min(0.99, round($at / max(1, $frames), 2))], ''];
        }

        return [$measured->all(), ''];
    }

    /**
     * Spectra of lines over the beginning of a section, segment by segment; or of all channels, who covers whom in it.
     *
     * @param list<string>|null $lines null for who covers whom
     *
     * @return \Generator<int, null, mixed, array{array<string, mixed>, string}>
     */
    private function spectrum(Beat $beat, string $what, ?array $lines): \Generator
    {
        if (!self::has($beat, $what)) {
            return [['gone' => true], ''];
        }
        $plan = Plan::loop($beat, $what, $this->sounds);
        $spectra = new Spectra($beat, $lines ?? Spectra::channels($beat));
        // What is long is looked at from its start, once.
        $moments = $plan->frames > self::WHOLE_SECONDS * Beat::SAMPLE_RATE ? $this->renderer->stream(Plan::song($beat, [Entry::once($what)], $this->sounds)) : $this->renderer->loop($plan);
        foreach ($moments as $moment) {
            if (null !== $moment && $moment->segment->index <= self::MEASURED_AT_ONCE) {
                $spectra->add($moment);
            }
            yield;
        }

        return [null === $lines ? ['covered' => $spectra->covered()] : ['every' => Segment::FRAMES, 'lines' => array_map(static fn (array $line): array => ['mean' => base64_encode($line['mean']), 'segments' => array_map(base64_encode(...), $line['segments'])], $spectra->drawn())], ''];
    }

    /** A page may ask while what it plays is being deleted: that is no error. */
    private static function has(Beat $beat, string $what): bool
    {
        return isset($beat->sections[$what]) || isset($beat->patterns[$what]) || null !== Stretch::named($what);
    }

    private function reader(Beat $beat, string $name, string $what, int $from): PlanReader
    {
        foreach ($this->readers as $i => $reader) {
            if ($reader->continues($name, $from)) {
                $others = $this->readers;
                unset($others[$i]);
                $this->readers = [$reader, ...array_values($others)];

                return $reader;
            }
        }
        $plan = '' === $what ? Plan::song($beat, Passage::song($beat), $this->sounds) : Plan::loop($beat, $what, $this->sounds);
        $reader = new PlanReader($name, $plan, $this->renderer, $from, $this->readers);
        $this->readers = [$reader, ...\array_slice($this->readers, 0, self::MOST_READERS - 1)];

        return $reader;
    }

    /** A pad struck: the sounds that answer a velocity, as loud as it makes them before what is not linear. */
    private function pad(Beat $beat, string $id, int $velocity, int $turn, string $grade): Struck
    {
        $pad = $beat->soundingPad($id) ?? $beat->pad($id);
        $pad = '' === $grade ? $pad : $pad->graded($grade);

        return new Struck($beat, $pad->channel, $id, (new VoicePlanner($beat, $this->sounds))->struck($pad, $velocity, $turn), $this->sounds);
    }

    /** A note of an instrument, as long as it lasts. */
    private function note(Beat $beat, string $part, int $pitch, int $velocity, int $turn): Struck
    {
        $keys = $beat->part($part)->keys ?? throw new InvalidChange('This part is a kit: strike its pads.');

        return new Struck($beat, $keys->channel, $part, (new VoicePlanner($beat, $this->sounds))->note($keys, $pitch, $velocity, $turn), $this->sounds);
    }

    /**
     * The whole of what is struck, or a piece of it: the first is short, so that it is soon there.
     *
     * @param array<string, mixed> $request
     * @param int|null             $piece   from 0 on; null for the whole
     * @param \Closure(): Struck   $begin
     *
     * @return \Generator<int, null, mixed, array{array<string, mixed>, string}>
     */
    private function struck(array $request, ?int $piece, \Closure $begin): \Generator
    {
        unset($request['piece']);
        $name = hash('xxh128', serialize($request));
        $struck = $this->begun[$name] ?? null;
        // Nobody else goes on with it meanwhile.
        unset($this->begun[$name]);
        if (null === $struck || $struck->pieces !== $piece) {
            $struck = $begin();
        }
        $sound = '';
        while (!$struck->isOver() && (null === $piece || $struck->pieces <= $piece)) {
            $wanted = null === $piece || $struck->pieces === $piece;
            $made = yield from $struck->piece();
            $sound .= $wanted ? $made : '';
        }
        if (!$struck->isOver()) {
            $this->begun[$name] = $struck;
            $this->begun = \array_slice($this->begun, -self::MOST_BEGUN, null, true);
        }

        return [['rate' => Beat::SAMPLE_RATE, 'frames' => \strlen($sound) >> 3, 'more' => !$struck->isOver()], $sound];
    }
}
