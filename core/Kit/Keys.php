<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;

/**
 * An instrument: recorded notes, played higher and lower from their roots, waves that are made, or both together. Others may
 * be stacked on it: they answer the same notes, each as it is made and blended.
 */
final readonly class Keys implements Settable
{
    public const MAX_VOICES = 64;
    public const MAX_ZONES = 2048;
    /** In which a note dies away that is let go, until somebody sets it otherwise. */
    public const RELEASE_MS = 60.0;
    /** Sounds that answer together, itself among them. */
    public const MOST_STACKED = 8;

    /**
     * @param list<Zone>  $zones    none only where there are waves
     * @param bool        $single   one note at a time, each cuts the one before
     * @param bool        $held     as long as the note is held, then the release of its envelope; else to its end
     * @param int         $glideMs  how long a note takes from the pitch of the one before to its own, where they come one at a time
     * @param bool        $even     whether all notes last as long as the recording; else high ones are shorter and low ones longer
     * @param int         $voices   notes that sound at once; one more ends the one before them
     * @param float       $strength how much the strength of a note is heard: the power of its level
     * @param Answer      $answer   which of several zones answers that could
     * @param list<Wave>  $waves
     * @param string      $name     what it is called in a stack; '' for as its part
     * @param list<self>  $stack    others under the same notes; none of them has a stack of its own
     * @param list<Route> $routes   settings that are others for each note
     * @param bool        $legato   whether a note that begins before the one before it is let go only moves its pitch, where they come one at a time
     */
    public function __construct(
        public array $zones,
        public string $channel,
        public bool $single = false,
        public bool $held = true,
        public float $levelDb = 0.0,
        public int $low = 0,
        public int $high = Zone::HIGHEST,
        public int $glideMs = 0,
        public bool $even = false,
        public int $voices = self::MAX_VOICES,
        public float $strength = 1.5,
        public Answer $answer = Answer::All,
        public Treatment $treatment = new Treatment(new Envelope(releaseMs: self::RELEASE_MS, releaseBend: 0.0)),
        public bool $legato = false,
        public int $tuneCents = 0,
        public array $waves = [],
        public Blend $blend = new Blend(),
        public string $name = '',
        public array $stack = [],
        public array $routes = [],
    ) {
        if ([] === $zones && [] === $waves) {
            throw new \InvalidArgumentException('An instrument is made of a recorded note or a wave at least.');
        }
        if (\count($waves) > Wave::MOST) {
            throw new \InvalidArgumentException(\sprintf('A sound is made of at most %d waves.', Wave::MOST));
        }
        if (\count($stack) >= self::MOST_STACKED) {
            throw new \InvalidArgumentException(\sprintf('At most %d sounds are stacked.', self::MOST_STACKED));
        }
        if (\count($routes) > Route::MOST) {
            throw new \InvalidArgumentException(\sprintf('At most %d settings of a sound are moved by its notes.', Route::MOST));
        }
        if (\count($zones) > self::MAX_ZONES) {
            throw new \InvalidArgumentException(\sprintf('An instrument holds at most %d recorded notes.', self::MAX_ZONES));
        }
        if ($low > $high) {
            throw new \InvalidArgumentException('The lowest note of an instrument must not lie above its highest.');
        }
    }

    public static function parameters(): array
    {
        return [
            'single' => Parameter::onOff('One note at a time'),
            'legato' => Parameter::onOff('Legato'),
            'held' => Parameter::onOff('Length of notes', true),
            'even' => Parameter::onOff('High notes as long as low ones'),
            'glideMs' => Parameter::whole('Glide', 'ms', 0, 2000, 0)->moving(),
            'tuneCents' => Parameter::whole('Tune', 'cents', -2400, 2400, 0)->moving(),
            'levelDb' => Parameter::number('Level', 'dB', -60.0, 12.0, 0.0, 0.5)->moving(),
            'low' => Parameter::whole('Lowest note', '', 0, Zone::HIGHEST, 0),
            'high' => Parameter::whole('Highest note', '', 0, Zone::HIGHEST, Zone::HIGHEST),
            'voices' => Parameter::whole('Voices', '', 1, self::MAX_VOICES, self::MAX_VOICES),
            'strength' => Parameter::number('Strength to the level', '', 0.0, 4.0, 1.5, 0.05, 2)->moving(),
            'answer' => Parameter::choice('Answer', Answer::All),
        ];
    }

    public function settings(): array
    {
        return array_intersect_key(get_object_vars($this), self::parameters());
    }

    public function with(array $changed): static
    {
        /** @var array{zones: list<Zone>, channel: string, single: bool, held: bool, levelDb: float, low: int, high: int, glideMs: int, even: bool, voices: int, strength: float, answer: Answer, treatment: Treatment, legato: bool, tuneCents: int, waves: list<Wave>, blend: Blend, name: string, stack: list<self>, routes: list<Route>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function inner(): array
    {
        $inner = [...$this->treatment->parts(), 'blend' => $this->blend];
        foreach ($this->zones as $i => $zone) {
            $inner['zones/'.$i] = $zone;
            $inner['zones/'.$i.'/sound'] = $zone->sound;
        }
        foreach ($this->waves as $i => $wave) {
            $inner['waves/'.$i] = $wave;
        }
        foreach ($this->stack as $i => $other) {
            $inner['stack/'.$i] = $other;
            foreach ($other->inner() as $path => $within) {
                $inner['stack/'.$i.'/'.$path] = $within;
            }
        }

        return $inner;
    }

    public function withInner(string $path, Settable $inner): static
    {
        if (preg_match('~^stack/(\d+)(?:/(.+))?$~', $path, $m)) {
            $other = $this->stack[(int) $m[1]];

            return $this->with(['stack' => array_values(array_replace($this->stack, [(int) $m[1] => isset($m[2]) ? $other->withInner($m[2], $inner) : $inner]))]);
        }
        if ($inner instanceof Blend) {
            return $this->with(['blend' => $inner]);
        }
        if (preg_match('~^zones/(\d+)~', $path, $m)) {
            $i = (int) $m[1];

            return $this->withZone($i, $inner instanceof Zone ? $inner : $this->zones[$i]->with(['sound' => $inner]));
        }

        if ($inner instanceof Wave) {
            return $this->with(['waves' => array_values(array_replace($this->waves, [(int) substr($path, \strlen('waves/')) => $inner]))]);
        }

        return $this->with(['treatment' => $this->treatment->withPart($path, $inner)]);
    }

    public function withZone(int $place, Zone $zone): self
    {
        $zones = $this->zones;
        $zones[$place] = $zone;

        return $this->with(['zones' => array_values($zones)]);
    }

    /** The first of its recorded notes; none where it is only made. */
    public function main(): ?Zone
    {
        return $this->zones[0] ?? null;
    }

    /** Whether a note lasts as long as it is held: what is made has no end of its own. */
    public function lastsAsHeld(): bool
    {
        return [] !== array_filter($this->all(), static fn (self $keys): bool => $keys->held || [] !== $keys->waves);
    }

    /** One of the stack: itself at 0, then what lies on it. */
    public function at(int $place): ?self
    {
        return $this->all()[$place] ?? null;
    }

    public function withAt(int $place, self $one): self
    {
        return 0 === $place ? $one->with(['stack' => $this->stack]) : $this->stacked([$this->with(['stack' => []]), ...array_replace($this->stack, [$place - 1 => $one])]);
    }

    /** With one more on it; heard through the same channel. */
    public function withAnother(self $one): self
    {
        return $this->stacked([...$this->all(), $one]);
    }

    /** Without one of several. */
    public function without(int $place): self
    {
        return $this->stacked(array_values(array_diff_key($this->all(), [$place => true])));
    }

    /** @param array<int, self> $all */
    private function stacked(array $all): self
    {
        $flat = array_map(fn (self $one): self => $one->with(['stack' => [], 'channel' => $this->channel]), array_values($all));

        return $flat[0]->playedAs($this)->with(['stack' => \array_slice($flat, 1)]);
    }

    /** The same sound, its notes coming as those of another: in a stack all are played as the first is. */
    public function playedAs(self $other): self
    {
        return $this->with(['single' => $other->single, 'legato' => $other->legato, 'glideMs' => $other->glideMs, 'voices' => $other->voices]);
    }

    /** One of the stack by itself. */
    public function alone(int $place): self
    {
        return ($this->at($place) ?? $this)->playedAs($this)->with(['stack' => [], 'channel' => $this->channel]);
    }

    /** @return non-empty-list<self> itself and what is stacked on it */
    public function all(): array
    {
        return [$this, ...$this->stack];
    }

    /** @return list<Layer> the recordings of all of them */
    public function sounds(): array
    {
        return array_merge(...array_map(static fn (self $keys): array => array_column($keys->zones, 'sound'), $this->all()));
    }

    public function holds(string $sample): bool
    {
        return \in_array($sample, array_column($this->sounds(), 'sample'), true);
    }

    /** @param callable(Layer): Layer $changed */
    public function mapSounds(callable $changed): self
    {
        return $this->with(['zones' => array_map(static fn (Zone $zone): Zone => $zone->with(['sound' => $changed($zone->sound)]), $this->zones), 'stack' => array_map(static fn (self $other): self => $other->mapSounds($changed), $this->stack)]);
    }

    /**
     * Those of its zones that answer a note.
     *
     * @param int $turn which of them, where they answer one at a time; counts on and on
     *
     * @return list<Zone> none where it is out of reach
     */
    public function answering(int $pitch, int $velocity, int $turn = 0): array
    {
        if (0.0 === $this->blend->share($pitch, $this->low, $this->high, $velocity)) {
            return [];
        }
        $could = array_values(array_filter($this->zones, static fn (Zone $z): bool => null !== $z->tuneCents($pitch) && $z->sound->share($velocity, 0) > 0.0));

        return [] === $could || !$this->answer->chooses() ? $could : [$could[$turn % \count($could)]];
    }

    /** @return list<int> the highest velocity of each stretch in which the same sounds answer; the last is 127 */
    public function strengths(): array
    {
        $tops = [127 => true];
        foreach ($this->all() as $one) {
            foreach ([[$one->blend->weakest, $one->blend->strongest], ...array_map(static fn (Zone $z): array => [$z->sound->low, $z->sound->high], $one->zones)] as [$low, $high]) {
                foreach ([$low - 1, $high] as $top) {
                    if ($top > 0) {
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
        $plain = ['channel' => $this->channel];
        foreach ($this->settings() as $field => $value) {
            $plain[$field] = $value instanceof \BackedEnum ? $value->value : $value;
        }

        $more = array_filter(['name' => $this->name, 'blend' => $this->blend->toArray(), 'stack' => array_map(static fn (self $other): array => $other->toArray(), $this->stack), 'routes' => array_map(static fn (Route $r): array => $r->toArray(), $this->routes)]);

        return [...$plain, ...$more, ...[] === $this->waves ? [] : ['waves' => array_map(static fn (Wave $w): array => $w->toArray(), $this->waves)], 'zones' => array_map(static fn (Zone $z): array => $z->toArray(), $this->zones), 'treatment' => (object) $this->treatment->toArray()];
    }
}
