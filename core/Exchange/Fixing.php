<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\SongPlaces;
use Pestle\Core\Render\VoiceRenderer;
use Pestle\Core\Song\Entry;

/**
 * A part in one coming of a section as sound, before the inserts of its channels: all voices that begin there, to their ends.
 * Values lie on the grid of the sum, so what is written sounds the same to the bit in their place (up to 6 dB over full scale).
 */
final readonly class Fixing
{
    /** Ticks before the section that are caught with it: what is played early, and what fades in. */
    private const EARLY = 960;

    /** Tick of the song at which what is caught begins. */
    public int $at;
    private Beat $alone;

    /** @throws InvalidChange when it does not play there */
    public function __construct(private Beat $beat, string $entry, private string $part)
    {
        $own = $beat->entry($entry);
        $beat->part($part);
        $this->at = max(0, Passage::tickOfEntry($beat, $entry) - self::EARLY);
        if ([] === $this->channels() || \in_array($part, [...$own->fixed, ...$own->muted], true)) {
            throw new InvalidChange(\sprintf('%s plays nothing in %s.', $beat->part($part)->name, $beat->section($own->section)->name));
        }
        $parts = array_map(strval(...), array_keys($beat->parts));
        $song = array_map(static fn (Entry $e): Entry => $e->with(['fixed' => $e->id === $entry ? array_values(array_diff($parts, [$part])) : $parts]), $beat->song);
        $this->alone = $beat->with(['song' => $song, 'clips' => []]);
    }

    /** @return list<string> channels that the part may sound through */
    public function channels(): array
    {
        return array_map(strval(...), array_keys($this->sources()));
    }

    /** @return array<string, non-empty-list<string>> pads of the part, or the part, by channel */
    private function sources(): array
    {
        $keys = $this->beat->part($this->part)->keys;
        if (null !== $keys) {
            return [$keys->channel => [$this->part]];
        }
        $sources = [];
        foreach ($this->beat->sourcesOf($this->part) as $pad) {
            $sources[$this->beat->kit->pads[$pad]->channel][] = $pad;
        }

        return $sources;
    }

    /**
     * @param callable(float): bool $went takes how far it is, 0 to 1, and says whether it is still wanted
     *
     * @return bool whether anything sounds on that channel; else there is no file
     */
    public function write(string $channel, PadSounds $sounds, string $path, callable $went): bool
    {
        $sources = $this->sources()[$channel] ?? throw new InvalidChange('The part does not sound through this channel.');
        $renderer = new VoiceRenderer($sounds);
        $from = SongPlaces::frameOf($this->beat, $this->at);
        $plan = Plan::song($this->alone, Passage::song($this->alone), $sounds);
        $writer = null;
        $silent = 0;
        foreach ($plan->segments() as $segment) {
            if ($segment->start + $segment->frames <= $from) {
                continue;
            }
            if (!$went(min(1.0, $segment->start / max(1, $plan->frames)))) {
                $writer?->discard();

                return false;
            }
            $voices = array_merge(...array_map(static fn (string $source): array => $segment->voices[$source] ?? [], $sources));
            $block = [] === $voices ? null : $renderer->render($voices, $segment->frames);
            $skip = max(0, $from - $segment->start);
            if (null === $block) {
                $silent += $segment->frames - $skip;
                continue;
            }
            $writer ??= new WavWriter($path, Beat::SAMPLE_RATE, SampleFormat::Float32);
            $writer->write(StereoBlock::silence($silent)->append(0 === $skip ? $block : $block->slice($skip, $segment->frames - $skip)));
            $silent = 0;
        }
        $writer?->close();

        return null !== $writer;
    }
}
