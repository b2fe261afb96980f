<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;

/** An instrument: recorded notes, played higher and lower from their roots, waves that are made, or both together. */
final readonly class Keys implements Settable
{
    public const MAX_VOICES = 64;
    public const MAX_ZONES = 2048;
    /** In which a note dies away that is let go, until somebody sets it otherwise. */
    public const RELEASE_MS = 60.0;

    /**
     * @param list<Zone> $zones    none only where there are waves
     * @param bool       $single   one note at a time, each cuts the one before
     * @param bool       $held     as long as the note is held, then the release of its envelope; else to its end
     * @param int        $glideMs  how long a note takes from the pitch of the one before to its own, where they come one at a time
     * @param bool       $even     whether all notes last as long as the recording; else high ones are shorter and low ones longer
     * @param int        $voices   notes that sound at once; one more ends the one before them
     * @param float      $strength how much the strength of a note is heard: the power of its level
     * @param Answer     $answer   which of several zones answers that could
     * @param list<Wave> $waves
     * @param bool       $legato   whether a note that begins before the one before it is let go only moves its pitch, where they come one at a time
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
    ) {
        if ([] === $zones && [] === $waves) {
            throw new \InvalidArgumentException('An instrument is made of a recorded note or a wave at least.');
        }
        if (\count($waves) > Wave::MOST) {
            throw new \InvalidArgumentException(\sprintf('A sound is made of at most %d waves.', Wave::MOST));
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
        /** @var array{zones: list<Zone>, channel: string, single: bool, held: bool, levelDb: float, low: int, high: int, glideMs: int, even: bool, voices: int, strength: float, answer: Answer, treatment: Treatment, legato: bool, tuneCents: int, waves: list<Wave>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function inner(): array
    {
        $inner = $this->treatment->parts();
        foreach ($this->zones as $i => $zone) {
            $inner['zones/'.$i] = $zone;
            $inner['zones/'.$i.'/sound'] = $zone->sound;
        }
        foreach ($this->waves as $i => $wave) {
            $inner['waves/'.$i] = $wave;
        }

        return $inner;
    }

    public function withInner(string $path, Settable $inner): static
    {
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

    /** Whether its waves answer a note. */
    public function isMadeAt(int $pitch): bool
    {
        return [] !== $this->waves && $pitch >= $this->low && $pitch <= $this->high;
    }

    /** Whether a note lasts as long as it is held: what is made has no end of its own. */
    public function lastsAsHeld(): bool
    {
        return $this->held || [] !== $this->waves;
    }

    public function holds(string $sample): bool
    {
        return [] !== array_filter($this->zones, static fn (Zone $zone): bool => $zone->sound->sample === $sample);
    }

    /** @param callable(Layer): Layer $changed */
    public function mapSounds(callable $changed): self
    {
        return $this->with(['zones' => array_map(static fn (Zone $zone): Zone => $zone->with(['sound' => $changed($zone->sound)]), $this->zones)]);
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
        if ($pitch < $this->low || $pitch > $this->high) {
            return [];
        }
        $could = array_values(array_filter($this->zones, static fn (Zone $z): bool => null !== $z->tuneCents($pitch) && $z->sound->share($velocity, 0) > 0.0));

        return [] === $could || !$this->answer->chooses() ? $could : [$could[$turn % \count($could)]];
    }

    /** @return list<int> the highest velocity of each stretch in which the same zones answer; the last is 127 */
    public function strengths(): array
    {
        $tops = [127 => true];
        foreach ($this->zones as $zone) {
            foreach ([$zone->sound->low - 1, $zone->sound->high] as $top) {
                if ($top > 0) {
                    $tops[$top] = true;
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

        return [...$plain, ...[] === $this->waves ? [] : ['waves' => array_map(static fn (Wave $w): array => $w->toArray(), $this->waves)], 'zones' => array_map(static fn (Zone $z): array => $z->toArray(), $this->zones), 'treatment' => (object) $this->treatment->toArray()];
    }
}
