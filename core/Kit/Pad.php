<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;

/**
 * A pad: its sounds, which of them answer a strike, what is done to them, and how they behave: how long they go on, how
 * many at once, what they silence and what sounds along.
 */
final readonly class Pad implements Settable
{
    public const MAX_TUNE_CENTS = 3600;
    public const CHOKE_GROUPS = 16;
    public const MOST_CROSSFADE = 64;
    public const MAX_LAYERS = 64;
    public const MAX_VOICES = 16;
    /** Most others that sound along with a pad, or that it silences. */
    public const MAX_OTHERS = 15;

    /**
     * @param non-empty-list<Layer> $layers    its sounds
     * @param int                   $crossfade strengths over which one layer goes over into the next
     * @param int                   $voices    of its strikes that sound at once; one more ends the one before them
     * @param float                 $strength  how much the strength of a strike is heard: the power of its level
     * @param list<string>          $along     pads, and notes of instruments as "part-2/60", that are struck with it
     * @param list<string>          $silences  pads it ends
     * @param string|null           $colour    the maker's own, one of Part::COLOURS
     */
    public function __construct(
        public string $id,
        public string $name,
        public Role $role,
        public string $channel,
        public array $layers,
        public float $levelDb = 0.0,
        public float $pan = 0.0,
        public int $tuneCents = 0,
        public PlayMode $mode = PlayMode::OneShot,
        public int $choke = 0,
        public int $voices = 1,
        public Answer $answer = Answer::All,
        public int $crossfade = 0,
        public float $strength = 1.5,
        public array $along = [],
        public array $silences = [],
        public ?string $colour = null,
        public Treatment $treatment = new Treatment(),
    ) {
        if (\count($layers) > self::MAX_LAYERS) {
            throw new \InvalidArgumentException(\sprintf('A pad holds at most %d sounds.', self::MAX_LAYERS));
        }
        if (\count($along) > self::MAX_OTHERS || \count($silences) > self::MAX_OTHERS) {
            throw new \InvalidArgumentException(\sprintf('At most %d others sound along with a pad, or are silenced by it.', self::MAX_OTHERS));
        }
    }

    /** A pad with one sound. */
    public static function of(string $id, Role $role, string $channel, Layer $sound): self
    {
        return new self($id, $sound->name, $role, $channel, [$sound]);
    }

    public static function parameters(): array
    {
        return [
            'role' => Parameter::choice('Role', Role::Effect),
            'levelDb' => Parameter::number('Level', 'dB', -60.0, 12.0, 0.0, 0.5)->moving(),
            'pan' => Parameter::number('Pan', '', -1.0, 1.0, 0.0, 0.05, 2)->moving(),
            'tuneCents' => Parameter::whole('Tune', 'cents', -self::MAX_TUNE_CENTS, self::MAX_TUNE_CENTS, 0)->moving(),
            'mode' => Parameter::choice('Play mode', PlayMode::OneShot),
            'choke' => Parameter::whole('Choke group', '', 0, self::CHOKE_GROUPS, 0),
            'voices' => Parameter::whole('Voices', '', 1, self::MAX_VOICES, 1),
            'answer' => Parameter::choice('Answer', Answer::All),
            'crossfade' => Parameter::whole('Crossfade', '', 0, self::MOST_CROSSFADE, 0),
            'strength' => Parameter::number('Strength to the level', '', 0.0, 4.0, 1.5, 0.05, 2)->moving(),
        ];
    }

    public function settings(): array
    {
        return array_intersect_key(get_object_vars($this), self::parameters());
    }

    /**
     * Who answers otherwise shares the strengths otherwise, where the sounds are not said along with it: by strength evenly in
     * their order, unless they are shared out already; in all other ways each answers all of them.
     */
    public function with(array $changed): static
    {
        if (($changed['answer'] ?? $this->answer) !== $this->answer && !isset($changed['layers'])) {
            $changed['layers'] = $this->answeringLayers($changed['answer']);
        }
        /** @var array{id: string, name: string, role: Role, channel: string, layers: non-empty-list<Layer>, levelDb: float, pan: float, tuneCents: int, mode: PlayMode, choke: int, voices: int, answer: Answer, crossfade: int, strength: float, along: list<string>, silences: list<string>, colour: string|null, treatment: Treatment} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function inner(): array
    {
        $inner = $this->treatment->parts();
        foreach ($this->layers as $i => $layer) {
            $inner['layers/'.$i] = $layer;
        }

        return $inner;
    }

    public function withInner(string $path, Settable $inner): static
    {
        if ($inner instanceof Layer) {
            $layers = $this->layers;
            $layers[(int) basename($path)] = $inner;

            return $this->with(['layers' => array_values($layers)]);
        }

        return $this->with(['treatment' => $this->treatment->withPart($path, $inner)]);
    }

    /**
     * As one step of a ladder plays it: one of its settings at another value, within its bounds. "start" is a share of each
     * sound, 0 to 1. What it does not have changes nothing.
     *
     * @param string $grade such as "filter/cutoffHz=800"
     */
    public function graded(string $grade): self
    {
        [$path, $number] = [...explode('=', $grade, 2), ''];
        $value = (float) $number;
        if ('start' === $path) {
            return $this->mapLayers(static fn (Layer $l): Layer => $l->moved($l->start + (int) round(max(0.0, min(0.99, $value)) * ($l->end - 1 - $l->start)), $l->end, static fn (int $frame): int => $frame));
        }
        $inside = str_contains($path, '/') ? \dirname($path) : '';
        $holder = '' === $inside ? $this : $this->inner()[$inside] ?? null;
        $parameter = null === $holder ? null : $holder::parameters()[basename($path)] ?? null;
        if (null === $holder || null === $parameter || null !== $parameter->choice || \is_bool($parameter->default)) {
            return $this;
        }
        $value = max($parameter->least, min($parameter->most, $value));
        $changed = $holder->with([basename($path) => $parameter->whole ? (int) round($value) : $value]);

        return $changed instanceof self ? $changed : $this->withInner($inside, $changed);
    }

    /** The first of its sounds: what it is known by. */
    public function main(): Layer
    {
        return $this->layers[0];
    }

    /** The sound that is drawn for it: where strikes answer by strength, that of hard ones. */
    public function shown(): Layer
    {
        return Answer::Strength === $this->answer ? $this->layers[\count($this->layers) - 1] : $this->main();
    }

    /** @param array<string, mixed> $changed fields of the first of its sounds */
    public function withMain(array $changed): self
    {
        return $this->with(['layers' => [$this->main()->with($changed), ...\array_slice($this->layers, 1)]]);
    }

    public function holds(string $sample): bool
    {
        return \in_array($sample, array_column($this->layers, 'sample'), true);
    }

    /** @param callable(Layer): Layer $changed */
    public function mapLayers(callable $changed): self
    {
        return $this->with(['layers' => array_map($changed, $this->layers)]);
    }

    /** @return non-empty-list<Layer> */
    private function answeringLayers(mixed $answer): array
    {
        $shared = [] !== array_filter($this->layers, static fn (Layer $l): bool => $l->low > 1 || $l->high < 127);

        return match (true) {
            Answer::Strength !== $answer => array_map(static fn (Layer $l): Layer => $l->with(['low' => 1, 'high' => 127]), $this->layers),
            $shared => $this->layers,
            default => $this->split()->layers,
        };
    }

    /** Its sounds share the strengths evenly, in their order. */
    public function split(): self
    {
        $n = \count($this->layers);
        $layers = [];
        foreach ($this->layers as $i => $layer) {
            $layers[] = $layer->with(['low' => 1 + (int) ceil(127.0 * $i / $n), 'high' => (int) ceil(127.0 * ($i + 1) / $n)]);
        }

        return $this->with(['layers' => $layers]);
    }

    /**
     * Those of its sounds that answer a strike, and how much of each, 0 to 1.
     *
     * @param int $velocity 1 to 127
     * @param int $turn     which of them, where they answer one at a time; counts on and on
     *
     * @return list<array{Layer, float}>
     */
    public function answering(int $velocity, int $turn = 0): array
    {
        $could = [];
        foreach ($this->layers as $layer) {
            $share = $layer->share($velocity, $this->crossfade);
            if ($share > 0.0) {
                $could[] = [$layer, $share];
            }
        }

        return [] === $could || !$this->answer->chooses() ? $could : [$could[$turn % \count($could)]];
    }

    /** @return list<int> the highest velocity of each stretch in which the same sounds answer; the last is 127 */
    public function strengths(): array
    {
        $tops = [127 => true];
        foreach ($this->layers as $layer) {
            $half = intdiv($this->crossfade, 2);
            foreach ([$layer->low - 1, $layer->high] as $edge) {
                foreach ($half > 0 ? range($edge - $half - 1, $edge + $half + 1, max(1, intdiv($half, 3))) : [$edge] as $top) {
                    if ($edge > 0 && $edge < 127 && $top > 0 && $top < 127) {
                        $tops[$top] = true;
                    }
                }
            }
        }
        ksort($tops);

        return array_keys($tops);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $plain = ['id' => $this->id, 'name' => $this->name, 'channel' => $this->channel];
        foreach ($this->settings() as $field => $value) {
            $plain[$field] = $value instanceof \BackedEnum ? $value->value : $value;
        }

        return [...$plain, 'layers' => array_map(static fn (Layer $l): array => $l->toArray(), $this->layers), 'along' => $this->along, 'silences' => $this->silences, 'colour' => $this->colour, 'treatment' => (object) $this->treatment->toArray()];
    }
}
