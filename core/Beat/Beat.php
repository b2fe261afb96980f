<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Feeling;
use Pestle\Core\Pattern\Groove;
use Pestle\Core\Pattern\Grooves;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\FadeShape;
use Pestle\Core\Sample\Material;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Marker;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Movements;
use Pestle\Core\Song\Part;
use Pestle\Core\Song\Section;
use Pestle\Core\Song\Track;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;

/** The whole document: an immutable value. Samples are named by the hash of their source. */
final readonly class Beat
{
    public const SAMPLE_RATE = 44100;
    public const MAX_PATTERNS = 500;
    public const MAX_SONG = 200;
    public const MAX_GROOVES = 64;
    /** Furthest that one edit moves a pitch. */
    private const MOST_PITCH_CENTS = 1200;
    /** Frames over which what is played backwards fades in. */
    private const FADE = 96;

    /**
     * @param non-empty-array<string, Part>        $parts     by id, in order
     * @param array<string, Pattern>               $patterns  by id, in order
     * @param array<string, Section>               $sections  by id, in order
     * @param array<string, Entry>                 $song      by id, as they follow one another
     * @param array<string, Slices>                $slices    by sample hash
     * @param array<string, Edits>                 $edits     by sample hash, only where there are some
     * @param array<string, array<string, Slices>> $sliceSets by sample hash and name
     * @param array<string, Groove>                $grooves   by id, beside those that come with Pestle
     * @param array<string, Snapshot>              $snapshots by id: mixes that are kept, the oldest first
     * @param array<string, Track>                 $tracks    by id, in order: where sounds are placed freely over the song
     * @param array<string, Clip>                  $clips     by id: what is placed there
     * @param array<string, Marker>                $markers   by id: named places of the song
     */
    public function __construct(
        public string $name,
        public Tempo $tempo,
        public Meter $meter,
        public ?Key $key,
        public array $parts,
        public Kit $kit,
        public array $patterns,
        public array $sections,
        public array $song,
        public Mixer $mixer,
        public array $slices,
        public int $seed = 1,
        public array $edits = [],
        public array $sliceSets = [],
        public Movements $movements = new Movements(),
        public array $grooves = [],
        public array $snapshots = [],
        public SoundRules $rules = SoundRules::NEWEST,
        public array $tracks = [],
        public array $clips = [],
        public array $markers = [],
    ) {
        foreach ([[$parts, Part::MOST, 'parts'], [$patterns, self::MAX_PATTERNS, 'patterns'], [$sections, Section::MOST, 'sections'], [$song, self::MAX_SONG, 'sections in its song'], [$grooves, self::MAX_GROOVES, 'grooves of its own'], [$snapshots, Snapshot::MOST, 'mixes that are kept'], [$tracks, Track::MOST, 'tracks'], [$clips, Clip::MOST, 'clips'], [$markers, Marker::MOST, 'markers']] as [$list, $most, $what]) {
            if (\count($list) > $most) {
                throw new \InvalidArgumentException(\sprintf('A beat has at most %d %s: delete one first.', $most, $what));
            }
        }
    }

    public static function empty(string $name): self
    {
        $meter = Meter::of(4, 4);
        $part = new Part('part-1', 'Kit');

        return new self(
            $name,
            Tempo::bpm(90),
            $meter,
            null,
            [$part->id => $part],
            Kit::empty($part->id),
            ['p1' => Pattern::empty('p1', 'Pattern 1', $part->id, 2 * $meter->barTicks())],
            ['s1' => new Section('s1', 'Section 1', [$part->id => 'p1'])],
            ['e1' => new Entry('e1', 's1')],
            Mixer::empty(),
            [],
        );
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{name: string, tempo: Tempo, meter: Meter, key: Key|null, parts: non-empty-array<string, Part>, kit: Kit, patterns: array<string, Pattern>, sections: array<string, Section>, song: array<string, Entry>, mixer: Mixer, slices: array<string, Slices>, seed: int, edits: array<string, Edits>, sliceSets: array<string, array<string, Slices>>, movements: Movements, grooves: array<string, Groove>, snapshots: array<string, Snapshot>, rules: SoundRules, tracks: array<string, Track>, clips: array<string, Clip>, markers: array<string, Marker>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function withPart(Part $part): self
    {
        return $this->with(['parts' => array_replace($this->parts, [$part->id => $part])]);
    }

    public function withSection(Section $section): self
    {
        return $this->with(['sections' => array_replace($this->sections, [$section->id => $section])]);
    }

    /** One of the song in its place, or another at its end. */
    public function withEntry(Entry $entry): self
    {
        return $this->with(['song' => array_replace($this->song, [$entry->id => $entry])]);
    }

    /** Clips by id, in place of those that have theirs. */
    public function withClips(Clip ...$clips): self
    {
        return $this->with(['clips' => array_replace($this->clips, array_column($clips, null, 'id'))]);
    }

    public function withPattern(Pattern $pattern): self
    {
        return $this->with(['patterns' => array_replace($this->patterns, [$pattern->id => $pattern])]);
    }

    public function withKit(Kit $kit): self
    {
        return $this->with(['kit' => $kit]);
    }

    /** What moves lines, sends and inserts that are gone goes with them. */
    public function withMixer(Mixer $mixer): self
    {
        return $this->with(['mixer' => $mixer, 'movements' => $this->movements->only(static fn (Movement $m): bool => !$m->movesMixer() || $mixer->holds($m->path))]);
    }

    /** @throws InvalidChange when there is no such mix */
    public function snapshot(string $id): Snapshot
    {
        return $this->snapshots[$id] ?? throw new InvalidChange('This mix is kept no longer.');
    }

    /** @throws InvalidChange when there is no such pattern */
    public function pattern(string $id): Pattern
    {
        return $this->patterns[$id] ?? throw new InvalidChange('This pattern is no longer in the beat.');
    }

    /** @throws InvalidChange when there is no such part */
    public function part(string $id): Part
    {
        return $this->parts[$id] ?? throw new InvalidChange('This part is no longer in the beat.');
    }

    /** @return list<string> what a part sounds by: the pads of its banks, or itself */
    public function sourcesOf(string $part): array
    {
        if (!($this->parts[$part] ?? null)?->isKit()) {
            return [$part];
        }

        return array_values(array_filter(array_map(strval(...), array_keys($this->kit->pads)), fn (string $pad): bool => $this->kit->partOf($pad) === $part));
    }

    /** @throws InvalidChange when there is no such track */
    public function track(string $id): Track
    {
        return $this->tracks[$id] ?? throw new InvalidChange('This track is no longer in the beat.');
    }

    /** @throws InvalidChange when there is no such clip */
    public function clip(string $id): Clip
    {
        return $this->clips[$id] ?? throw new InvalidChange('This clip is no longer in the song.');
    }

    /** @throws InvalidChange when there is no such entry of the song */
    public function entry(string $id): Entry
    {
        return $this->song[$id] ?? throw new InvalidChange('This coming of a section is no longer in the song.');
    }

    /** @throws InvalidChange when there is no such section */
    public function section(string $id): Section
    {
        return $this->sections[$id] ?? throw new InvalidChange('This section is no longer in the beat.');
    }

    /** The first kit: where sounds land that nobody sent elsewhere. */
    public function firstKit(): Part
    {
        foreach ($this->parts as $part) {
            if ($part->isKit()) {
                return $part;
            }
        }

        throw new InvalidChange('This beat has no kit: add one first.');
    }

    /** @throws InvalidChange when the pad holds no sound */
    public function pad(string $id): Pad
    {
        return $this->kit->pad($id) ?? throw new InvalidChange('This pad holds no sound any more.');
    }

    /** A pad as it sounds, with what its whole kit adds; null when it holds no sound. */
    public function soundingPad(string $id): ?Pad
    {
        $pad = $this->kit->pad($id);

        return null === $pad ? null : (($this->parts[$this->kit->partOf($id) ?? ''] ?? null)?->whole->over($pad) ?? $pad);
    }

    /** @throws InvalidChange when there is no such channel */
    public function channel(string $id): Node
    {
        return $this->mixer->nodes[$id] ?? throw new InvalidChange('This channel is no longer in the beat.');
    }

    /**
     * A line of the mixer: a channel, a group, a return or the master.
     *
     * @throws InvalidChange when there is none
     */
    public function line(string $id): Node|Master
    {
        return $this->mixer->line($id) ?? throw new InvalidChange('This line of the mixer is no longer in the beat.');
    }

    public function nameOf(string $line): string
    {
        return $this->mixer->nodes[$line]->name ?? 'the master';
    }

    /** What the library calls a sample as this beat hears it: with its edits. */
    public function sound(string $sample): string
    {
        return ($this->edits[$sample] ?? new Edits())->of($sample);
    }

    /** A sample as this beat hears it, moved in pitch and as long as it was: with as many steps as an edit allows. */
    public function pitched(string $sample, int $cents): string
    {
        $steps = max(1, (int) ceil(abs($cents) / self::MOST_PITCH_CENTS));
        $pitch = new Edit(EditKind::Pitch, null, null, ['cents' => round($cents / $steps, 3), 'material' => Material::Tones->value]);

        return (new Edits([...($this->edits[$sample] ?? new Edits())->list, ...array_fill(0, $steps, $pitch)]))->of($sample);
    }

    /**
     * What a layer plays: the sound, its first frame and the one after its last. Played backwards it is a sound of its
     * own, faded in where it was cut.
     *
     * @return array{string, int, int}
     */
    public function stretchOf(Layer $layer): array
    {
        if (!$layer->reversed) {
            return [$this->sound($layer->sample), $layer->start, $layer->end];
        }
        $length = $layer->end - $layer->start;
        $edits = new Edits([
            ...($this->edits[$layer->sample] ?? new Edits())->list,
            new Edit(EditKind::Keep, $layer->start, $layer->end),
            new Edit(EditKind::Reverse, null, null),
            new Edit(EditKind::FadeIn, 0, min($length, self::FADE), ['shape' => FadeShape::Straight->value]),
        ]);

        return [$edits->of($layer->sample), 0, $length];
    }

    /** One of its own, or one that comes with Pestle; null where it is none of them any more. */
    public function groove(string $id): ?Groove
    {
        return $this->grooves[$id] ?? Grooves::all()[$id] ?? null;
    }

    /** How a pattern, or one of its pads, is played. */
    public function feeling(Feel $feel): Feeling
    {
        return new Feeling($feel, $this->groove($feel->groove), $this->tempo, $this->seed, $this->rules);
    }

    public function nextGrooveId(): string
    {
        return self::free('g', $this->grooves);
    }

    public function nextSnapshotId(): string
    {
        return self::free('m', $this->snapshots);
    }

    public function nextPatternId(): string
    {
        return self::free('p', $this->patterns);
    }

    public function nextSectionId(): string
    {
        return self::free('s', $this->sections);
    }

    public function nextEntryId(): string
    {
        return self::free('e', $this->song);
    }

    public function nextTrackId(): string
    {
        return self::free(Track::ID, $this->tracks);
    }

    public function nextClipId(): string
    {
        return self::free('k', $this->clips);
    }

    public function nextMarkerId(): string
    {
        return self::free('n', $this->markers);
    }

    public function nextPartId(): string
    {
        return self::free('part-', $this->parts);
    }

    /** @param array<string, mixed> $taken */
    private static function free(string $letter, array $taken): string
    {
        $n = 1;
        while (isset($taken[$letter.$n])) {
            ++$n;
        }

        return $letter.$n;
    }

    /** A channel goes when nothing feeds it any more. */
    public function withoutUnusedChannels(): self
    {
        $fed = [
            ...array_map(static fn (Pad $pad): string => $pad->channel, array_values($this->kit->pads)),
            ...array_map(static fn (Part $part): string => $part->keys->channel ?? '', array_values($this->parts)),
            ...array_map(static fn (Track $track): string => $track->channel, array_values($this->tracks)),
        ];
        $mixer = $this->mixer;
        foreach (array_diff(array_map(strval(...), array_keys($mixer->of(NodeKind::Channel))), $fed) as $unused) {
            $mixer = $mixer->without($unused);
        }

        return $this->withMixer($mixer);
    }
}
