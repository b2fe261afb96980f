<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** How a sound joins others under the same notes: which notes and strengths it answers, how it goes over into its neighbours, when it begins. */
final readonly class Blend implements Settable
{
    use Settings;

    public const MOST_KEYS = 48;
    public const MOST_STRENGTHS = 100;

    /**
     * @param int $fadeKeys      semitones around its lowest and highest note over which it comes and goes
     * @param int $weakest       softest strike it answers
     * @param int $fadeStrengths velocities around the ends of those it answers over which it comes and goes
     */
    public function __construct(
        public int $fadeKeys = 0,
        public int $weakest = 1,
        public int $strongest = 127,
        public int $fadeStrengths = 0,
        public float $delayMs = 0.0,
        public bool $silent = false,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'fadeKeys' => Parameter::whole('Fades over', 'semitones', 0, self::MOST_KEYS, 0),
            'weakest' => Parameter::whole('Softest strike', '', 1, 127, 1),
            'strongest' => Parameter::whole('Hardest strike', '', 1, 127, 127),
            'fadeStrengths' => Parameter::whole('Strengths faded over', '', 0, self::MOST_STRENGTHS, 0),
            'delayMs' => Parameter::number('Begins after', 'ms', 0.0, 2000.0, 0.0, 1.0, 0)->bent(2.0)->moving(),
            'silent' => Parameter::onOff('Silent'),
        ];
    }

    /** One end of the strengths it answers takes the other along where it passes it. */
    public function with(array $changed): static
    {
        if (isset($changed['weakest']) !== isset($changed['strongest'])) {
            $changed += isset($changed['weakest']) ? ['strongest' => max($this->strongest, $changed['weakest'])] : ['weakest' => min($this->weakest, $changed['strongest'] ?? 127)];
        }
        /** @var array{fadeKeys: int, weakest: int, strongest: int, fadeStrengths: int, delayMs: float, silent: bool} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** How much of it answers a note, 0 to 1: what goes and what comes over the same notes is as strong as one of them. */
    public function share(int $pitch, int $low, int $high, int $velocity): float
    {
        return $this->silent ? 0.0 : Crossfade::share($pitch, $low, $high, $this->fadeKeys, 0) * Crossfade::share($velocity, $this->weakest, $this->strongest, $this->fadeStrengths, 1);
    }

    /** @return array<string, mixed> what differs from a sound that answers everything */
    public function toArray(): array
    {
        $plain = [];
        foreach (self::parameters() as $field => $parameter) {
            if ($this->settings()[$field] !== $parameter->default) {
                $plain[$field] = $this->settings()[$field];
            }
        }

        return $plain;
    }
}
