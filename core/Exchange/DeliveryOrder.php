<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavNotes;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\SongBars;
use Pestle\Core\Beat\Stretch;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\SongPlaces;
use Pestle\Core\Song\Entry;

/** What is to be delivered: the whole song, bars of it, a section or a pattern, as a loop, with its tail or cut at its end, which files of it, in which format, and by how many dB all of it is lowered. */
final readonly class DeliveryOrder
{
    public const MOST_LOWER_DB = 24;
    public const FORMATS = ['16' => '16 bit', '24' => '24 bit', '32f' => '32 bit float'];

    /** What is said of one. */
    public const FIELDS = ['what', 'fromBar', 'toBar', 'loop', 'trim', 'format', 'rate', 'dither', 'level', 'peak', 'lufs', 'lowerDb', 'stems', 'own', 'returns', 'leave', 'mix', 'also'];
    /** In Hz. */
    public const RATES = [44100, 48000, 88200, 96000];

    private const MOST_NAMES = 700;

    /**
     * @param array<string, string> $own        name of the stem of each channel and return, in a grouping of the maker's own
     * @param bool                  $ownReturns whether returns are stems of their own
     * @param list<string>          $leftOut    names of stems that are not wanted
     * @param int                   $rate       one of RATES, in Hz
     * @param bool                  $shaped     whether dither is shaped
     * @param list<PackedAs>        $also
     * @param array{int, int}|null  $bars       first and last bar of the song that is wanted, counted from 1; else all of it
     * @param bool                  $cut        whether it ends with its last bar, whatever rings on
     * @param bool                  $trimmed    whether silence before and after is left away
     * @param bool                  $mix        whether the mix is one of the files
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
        public array $also = [],
        public int $rate = Beat::SAMPLE_RATE,
        public bool $shaped = false,
        public DeliveryLevel $level = new DeliveryLevel(),
        public ?array $bars = null,
        public bool $cut = false,
        public bool $trimmed = false,
        public bool $mix = true,
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
        $also = self::also($fields);
        if (\in_array(PackedAs::Flac, $also, true) && $format->isFloat()) {
            throw InvalidChange::field('also', 'cannot be FLAC with 32 bit float: FLAC holds whole numbers. Choose 16 or 24 bit.');
        }
        $bars = 'bars' === $what ? [$fields->whole('fromBar', 1, 100_000), $fields->whole('toBar', 1, 100_000)] : null;
        $isPiece = 'beat' !== $what && null === $bars;
        $cut = 'cut' === $fields->raw('loop');
        $loop = 'beat' !== $what && !$cut && $fields->has('loop') && $fields->flag('loop');
        $grouping = $fields->choice('stems', StemGrouping::class);
        $mix = !$fields->has('mix') || $fields->flag('mix');
        if (!$mix && StemGrouping::None === $grouping) {
            throw InvalidChange::field('mix', 'is the only file: keep it, or choose stems.');
        }

        return new self(
            $isPiece ? $fields->id('what') : null,
            $loop,
            $format,
            $grouping,
            $shaped || ($fields->has('dither') && $fields->flag('dither')),
            $fields->has('lowerDb') ? $fields->whole('lowerDb', 0, self::MOST_LOWER_DB) : 0,
            $fields->has('own') ? self::names($fields->nested('own')) : [],
            $fields->has('returns') && $fields->flag('returns'),
            $fields->has('leave') ? array_values(self::names($fields->nested('leave'))) : [],
            $also,
            self::rate($fields),
            $shaped,
            DeliveryLevel::from($fields),
            $bars,
            $cut,
            !$loop && $fields->has('trim') && $fields->flag('trim'),
            $mix,
        );
    }

    /**
     * @return list<PackedAs>
     *
     * @throws InvalidChange
     */
    private static function also(Fields $fields): array
    {
        $said = array_filter(explode(',', $fields->has('also') ? $fields->text('also') : ''));

        return array_map(
            static fn (string $name): PackedAs => PackedAs::tryFrom($name) ?? throw InvalidChange::field('also', \sprintf('must be any of: %s.', implode(', ', array_column(PackedAs::cases(), 'value')))),
            array_values(array_diff(array_unique($said), ['none'])),
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
        $piece = $this->what ?? $this->stretch($beat)?->name();
        if ($this->loop && null !== $piece) {
            return Plan::loop($beat, $piece, $sounds);
        }
        if (null !== $this->what) {
            return Plan::song($beat, [Entry::once($this->what)], $sounds);
        }
        $song = Passage::song($beat);
        if ([] === $song) {
            throw new InvalidChange('The song is empty: put a section with a filled pattern into it, or deliver a single section or pattern.');
        }

        return Plan::song($beat, $song, $sounds);
    }

    /**
     * What of the plan goes into the files: bars of the song are cut out of it, as they sound there.
     *
     * @throws InvalidChange when the song has no such bars
     */
    public function window(Beat $beat): Window
    {
        $stretch = $this->loop ? null : $this->stretch($beat);
        $end = $this->cut ? $this->frames($beat) : null;

        return null === $stretch ? new Window(0, $end, $this->trimmed) : new Window(SongPlaces::frameOf($beat, $stretch->from), SongPlaces::frameOf($beat, $stretch->to), $this->trimmed);
    }

    /** @throws InvalidChange when the song has no such bars */
    private function stretch(Beat $beat): ?Stretch
    {
        return null === $this->bars ? null : SongBars::of($beat)->stretch(...$this->bars);
    }

    /**
     * What a file of it says of itself: its tempo and key; where it goes round, if it does; where the sections of the song begin.
     *
     * @param int                      $begun    frame of the plan that is the file's first
     * @param array{float, float}|null $loudness as WavNotes has it
     */
    public function notes(Beat $beat, int $begun, int $frames, string $title, ?array $loudness = null): WavNotes
    {
        $about = implode(', ', array_filter([$beat->tempo->bpm.' BPM', $beat->key?->name() ?? '', $beat->meter->name()]));
        $places = null === $this->what && !$this->loop ? array_map(static fn (int $at): int => $at - $begun, self::sections($beat)) : [];

        return new WavNotes($title, $about, $this->loop ? [0, $frames] : null, array_filter($places, static fn (int $at): bool => $at >= 0 && $at < $frames), $loudness);
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
        $stretch = $this->stretch($beat);
        if (null !== $stretch) {
            return SongPlaces::frameOf($beat, $stretch->to) - SongPlaces::frameOf($beat, $stretch->from);
        }
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
        $files = (int) (((int) $this->mix + \count($stems)) * ($one + $first));
        $lossy = \count(array_filter($this->also, static fn (PackedAs $as): bool => $as->isLossy()));
        $packed = $this->mix ? 1 : \count($stems);

        // 320 kbit a second are less than a byte a frame.
        return $files * (1 + \count($this->also) - $lossy) + $lossy * $packed * $this->frames($beat);
    }

    public function title(Beat $beat): string
    {
        $piece = match (true) {
            null !== $this->bars => $this->bars[0] === $this->bars[1] ? 'bar '.$this->bars[0] : 'bars '.implode(' to ', $this->bars),
            null !== $this->what => ($beat->sections[$this->what] ?? $beat->pattern($this->what))->name,
            default => null,
        };

        return $beat->name.(null === $piece ? '' : ' - '.$piece);
    }
}
