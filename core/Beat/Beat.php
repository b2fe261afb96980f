<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\Channel;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\FadeShape;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Order;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Tempo;

/** The whole document: an immutable value. Samples are named by the hash of their source. */
final readonly class Beat
{
    public const SAMPLE_RATE = 44100;
    public const MAX_PATTERNS = 500;
    /** Frames over which what is played backwards fades in. */
    private const FADE = 96;

    /**
     * @param array<string, Pattern>               $patterns  by id, in order
     * @param array<string, Slices>                $slices    by sample hash
     * @param array<string, Edits>                 $edits     by sample hash, only where there are some
     * @param array<string, array<string, Slices>> $sliceSets by sample hash and name
     */
    public function __construct(
        public string $name,
        public Tempo $tempo,
        public ?Key $key,
        public Kit $kit,
        public array $patterns,
        public Order $order,
        public Mixer $mixer,
        public array $slices,
        public int $seed = 1,
        public array $edits = [],
        public array $sliceSets = [],
    ) {
        if (\count($patterns) > self::MAX_PATTERNS) {
            throw new \InvalidArgumentException(\sprintf('A beat has at most %d patterns: delete one first.', self::MAX_PATTERNS));
        }
    }

    public static function empty(string $name): self
    {
        $first = Pattern::empty('p1', 'Pattern 1', 2);

        return new self($name, Tempo::bpm(90), null, Kit::empty(), ['p1' => $first], new Order([['pattern' => 'p1', 'repeats' => 1]]), Mixer::empty(), []);
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{name: string, tempo: Tempo, key: Key|null, kit: Kit, patterns: array<string, Pattern>, order: Order, mixer: Mixer, slices: array<string, Slices>, seed: int, edits: array<string, Edits>, sliceSets: array<string, array<string, Slices>>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function withPattern(Pattern $pattern): self
    {
        return $this->with(['patterns' => [...$this->patterns, $pattern->id => $pattern]]);
    }

    public function withKit(Kit $kit): self
    {
        return $this->with(['kit' => $kit]);
    }

    public function withMixer(Mixer $mixer): self
    {
        return $this->with(['mixer' => $mixer]);
    }

    /** @throws InvalidChange when there is no such pattern */
    public function pattern(string $id): Pattern
    {
        return $this->patterns[$id] ?? throw new InvalidChange('This pattern is no longer in the beat.');
    }

    /** @throws InvalidChange when the pad holds no sound */
    public function pad(string $id): Pad
    {
        return $this->kit->pad($id) ?? throw new InvalidChange('This pad holds no sound any more.');
    }

    /** @throws InvalidChange when there is no such channel */
    public function channel(string $id): Channel
    {
        return $this->mixer->channels[$id] ?? throw new InvalidChange('This channel is no longer in the beat.');
    }

    /** What the library calls a sample as this beat hears it: with its edits. */
    public function sound(string $sample): string
    {
        return ($this->edits[$sample] ?? new Edits())->of($sample);
    }

    /**
     * What a pad plays: the sound, its first frame and the one after its last. Played backwards it is a sound of its
     * own, faded in where it was cut.
     *
     * @return array{string, int, int}
     */
    public function stretchOf(Pad $pad): array
    {
        if (!$pad->reversed) {
            return [$this->sound($pad->sample), $pad->start, $pad->end];
        }
        $length = $pad->end - $pad->start;
        $edits = new Edits([
            ...($this->edits[$pad->sample] ?? new Edits())->list,
            new Edit(EditKind::Keep, $pad->start, $pad->end),
            new Edit(EditKind::Reverse, null, null),
            new Edit(EditKind::FadeIn, 0, min($length, self::FADE), ['shape' => FadeShape::Straight->value]),
        ]);

        return [$edits->of($pad->sample), 0, $length];
    }

    public function nextPatternId(): string
    {
        $n = 1;
        while (isset($this->patterns['p'.$n])) {
            ++$n;
        }

        return 'p'.$n;
    }

    /** A channel goes when no pad feeds it any more. */
    public function withoutUnusedChannels(): self
    {
        $used = array_flip(array_map(static fn (Pad $pad): string => $pad->channel, $this->kit->pads));
        $mixer = $this->mixer;
        foreach ($mixer->channels as $id => $channel) {
            if (!isset($used[$id])) {
                $mixer = $mixer->withoutChannel($id);
            }
        }

        return $this->withMixer($mixer);
    }
}
