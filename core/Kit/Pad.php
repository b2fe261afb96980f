<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/**
 * A pad and its sound: a stretch of a sample (frames of the source, end exclusive),
 * its level (dB), place (-1 left to 1 right) and tuning (cents). It may hold further sounds as layers.
 */
final readonly class Pad implements Settable
{
    use Settings;

    public const MAX_TUNE_CENTS = 3600;
    public const CHOKE_GROUPS = 8;
    public const MAX_LAYERS = 15;

    /** @param list<Layer> $layers sounds beside its own; by strength its own answers the softest strikes */
    public function __construct(
        public string $id,
        public string $name,
        public Role $role,
        public string $sample,
        public int $start,
        public int $end,
        public string $channel,
        public float $levelDb = 0.0,
        public float $pan = 0.0,
        public int $tuneCents = 0,
        public PlayMode $mode = PlayMode::OneShot,
        public int $choke = 0,
        public bool $reversed = false,
        public array $layers = [],
        public Answer $answer = Answer::All,
    ) {
        if ($start < 0 || $end <= $start) {
            throw new \InvalidArgumentException(\sprintf('Pad %s: the end of its sound must lie after its start.', $name));
        }
    }

    public static function parameters(): array
    {
        return [
            'role' => Parameter::choice('Role', Role::Effect),
            'levelDb' => Parameter::number('Level', 'dB', -60.0, 12.0, 0.0, 0.5),
            'pan' => Parameter::number('Pan', '', -1.0, 1.0, 0.0, 0.05, 2),
            'tuneCents' => Parameter::whole('Tune', 'cents', -self::MAX_TUNE_CENTS, self::MAX_TUNE_CENTS, 0),
            'mode' => Parameter::choice('Play mode', PlayMode::OneShot),
            'choke' => Parameter::whole('Choke group', '', 0, self::CHOKE_GROUPS, 0),
            'reversed' => Parameter::onOff('Direction'),
            'answer' => Parameter::choice('Answer', Answer::All),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{id: string, name: string, role: Role, sample: string, start: int, end: int, channel: string, levelDb: float, pan: float, tuneCents: int, mode: PlayMode, choke: int, reversed: bool, layers: list<Layer>, answer: Answer} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /**
     * Its sounds as pads of one sound each, softest first where strength decides.
     *
     * @return non-empty-list<self>
     */
    public function sounds(): array
    {
        $own = $this->with(['layers' => []]);

        return [$own, ...array_map(static fn (Layer $l): self => $own->with(['sample' => $l->sample, 'start' => $l->start, 'end' => $l->end]), $this->layers)];
    }

    /**
     * Those of its sounds that answer a strike: all of them, or the one whose part of the range it falls in.
     *
     * @param int $velocity 1 to 127
     *
     * @return non-empty-list<self>
     */
    public function answering(int $velocity): array
    {
        if ([] === $this->layers) {
            return [$this];
        }
        $sounds = $this->sounds();

        return Answer::All === $this->answer ? $sounds : [$sounds[intdiv(($velocity - 1) * \count($sounds), 127)]];
    }

    /** @return list<int> the highest velocity at which each of its sounds answers; one when all answer together */
    public function strengths(): array
    {
        $n = Answer::All === $this->answer ? 1 : 1 + \count($this->layers);

        return array_map(static fn (int $i): int => (int) ceil(127.0 * $i / $n), range(1, $n));
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        /** @var array<string, mixed> $plain */
        $plain = [...get_object_vars($this), 'role' => $this->role->value, 'mode' => $this->mode->value, 'layers' => array_map(get_object_vars(...), $this->layers), 'answer' => $this->answer->value];

        return $plain;
    }
}
