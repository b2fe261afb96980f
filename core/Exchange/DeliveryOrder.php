<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavNotes;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\SongPlaces;
use Pestle\Core\Song\Entry;

/** What is to be delivered: the whole beat, a section or a pattern, as a loop or with its tail, in which format and stems, and by how many dB all of it is lowered. */
final readonly class DeliveryOrder
{
    public const MOST_LOWER_DB = 24;
    public const FORMATS = ['16' => '16 bit', '24' => '24 bit', '32f' => '32 bit float'];

    /** What is said of one. */
    public const FIELDS = ['what', 'loop', 'format', 'rate', 'dither', 'level', 'peak', 'lufs', 'lowerDb', 'stems', 'own', 'returns', 'leave', 'also'];
    /** In Hz. */
    public const RATES = [44100, 48000, 88200, 96000];

    private const MOST_NAMES = 700;

    /**
     * @param array<string, string> $own        name of the stem of each channel and return, in a grouping of the maker's own
     * @param bool                  $ownReturns whether returns are stems of their own
     * @param list<string>          $leftOut    names of stems that are not wanted
     * @param int                   $rate       one of RATES, in Hz
     * @param bool                  $shaped     whether dither is shaped
     */
    public function __construct(
        public ?string $what = null,
        public bool $loop = false,
        public SampleFormat $format = SampleFormat::Int24,
        public StemGrouping $grouping = StemGrouping::None,
        public bool $dither = true,
        public int $lowerDb = 0,
        public array $own = [],
        public bool $ownReturns = false,
        public array $leftOut = [],
        public PackedAs $also = PackedAs::None,
        public int $rate = Beat::SAMPLE_RATE,
        public bool $shaped = false,
        public DeliveryLevel $level = new DeliveryLevel(),
    ) {
    }

    /** @throws InvalidChange */
    public static function from(Fields $fields): self
    {
        $format = $fields->choice('format', SampleFormat::class);
        if (!isset(self::FORMATS[$format->value])) {
            throw InvalidChange::field('format', 'must be one of: 16, 24, 32f.');
        }
        $what = $fields->text('what');
        $shaped = 'shaped' === $fields->raw('dither');
        $also = $fields->has('also') ? $fields->choice('also', PackedAs::class) : PackedAs::None;
        if (PackedAs::Flac === $also && $format->isFloat()) {
            throw InvalidChange::field('also', 'cannot be FLAC with 32 bit float: FLAC holds whole numbers. Choose 16 or 24 bit.');
        }

        return new self(
            'beat' === $what ? null : $fields->id('what'),
            'beat' !== $what && $fields->has('loop') && $fields->flag('loop'),
            $format,
            $fields->choice('stems', StemGrouping::class),
            $shaped || ($fields->has('dither') && $fields->flag('dither')),
            $fields->has('lowerDb') ? $fields->whole('lowerDb', 0, self::MOST_LOWER_DB) : 0,
            $fields->has('own') ? self::names($fields->nested('own')) : [],
            $fields->has('returns') && $fields->flag('returns'),
            $fields->has('leave') ? array_values(self::names($fields->nested('leave'))) : [],
            $also,
            self::rate($fields),
            $shaped,
            DeliveryLevel::from($fields),
        );
    }

    /** @throws InvalidChange */
    private static function rate(Fields $fields): int
    {
        $rate = $fields->has('rate') ? $fields->whole('rate', 1, 1_000_000) : Beat::SAMPLE_RATE;

        return \in_array($rate, self::RATES, true) ? $rate : throw InvalidChange::field('rate', \sprintf('must be one of: %s.', implode(', ', self::RATES)));
    }

    /** @return array<string, string>|null as StemGrouping::stems() */
    public function stems(Beat $beat): ?array
    {
        return $this->grouping->stems($beat, $this->own, $this->ownReturns);
    }

    /**
     * @return array<string, string>
     *
     * @throws InvalidChange
     */
    private static function names(Fields $fields): array
    {
        $names = [];
        foreach (\array_slice($fields->keys(), 0, self::MOST_NAMES) as $key) {
            // Names that were told apart have a number behind what a maker may write.
            $names[$key] = $fields->text($key, 100);
        }

        return $names;
    }

    /** @throws InvalidChange when the beat has nothing to deliver */
    public function plan(Beat $beat, PadSounds $sounds): Plan
    {
        if (null !== $this->what) {
            return $this->loop ? Plan::loop($beat, $this->what, $sounds) : Plan::song($beat, [Entry::once($this->what)], $sounds);
        }
        $song = Passage::song($beat);
        if ([] === $song) {
            throw new InvalidChange('The song is empty: put a section with a filled pattern into it, or deliver a single section or pattern.');
        }

        return Plan::song($beat, $song, $sounds);
    }

    /**
     * What a file of it says of itself: its tempo and key; where it goes round, if it does; where the sections of the song begin.
     *
     * @param array{float, float}|null $loudness as WavNotes has it
     */
    public function notes(Beat $beat, int $frames, string $title, ?array $loudness = null): WavNotes
    {
        $about = implode(', ', array_filter([$beat->tempo->bpm.' BPM', $beat->key?->name() ?? '', $beat->meter->name()]));

        return new WavNotes($title, $about, $this->loop ? [0, $frames] : null, null === $this->what ? self::sections($beat) : [], $loudness);
    }

    /** @return array<string, int> frames at which the sections of the song begin, by name */
    private static function sections(Beat $beat): array
    {
        $places = [];
        $tick = 0;
        foreach (Passage::song($beat) as $entry) {
            $name = $beat->section($entry->section)->name;
            $places[isset($places[$name]) ? $name.', '.\count($places) : $name] = SongPlaces::frameOf($beat, $tick);
            $tick += $entry->repeats * $beat->section($entry->section)->lengthTicks($beat->patterns);
        }

        return $places;
    }

    /** Frames without what rings on behind them. */
    public function frames(Beat $beat): int
    {
        $ticks = null === $this->what
            ? array_sum(array_map(static fn (Entry $entry): int => $entry->repeats * $beat->section($entry->section)->lengthTicks($beat->patterns), Passage::song($beat)))
            : Passage::of($beat, $this->what, $this->loop)->ticks;

        return (null === $this->what ? Timeline::song($beat) : Timeline::of($beat, $this->what))->frames($ticks, Beat::SAMPLE_RATE);
    }

    /** Bytes of all files, at the most: stems that stay silent are left out. */
    public function mostBytes(Beat $beat): int
    {
        $stems = array_diff(array_unique(array_values($this->stems($beat) ?? [])), $this->leftOut);

        $one = 2 * $this->format->bytes() * $this->frames($beat) * $this->rate / Beat::SAMPLE_RATE;
        // At another rate each is written as it is first.
        $first = Beat::SAMPLE_RATE === $this->rate ? 0 : 2 * SampleFormat::Float32->bytes() * $this->frames($beat);
        $files = (int) ((1 + \count($stems)) * ($one + $first));

        return $files + match ($this->also) {
            PackedAs::None => 0,
            PackedAs::Flac => $files,
            // 320 kbit a second are less than a byte a frame.
            default => $this->frames($beat),
        };
    }

    public function title(Beat $beat): string
    {
        return null === $this->what ? $beat->name : $beat->name.' - '.($beat->sections[$this->what] ?? $beat->pattern($this->what))->name;
    }
}
