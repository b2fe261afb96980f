<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** A recorded note of an instrument, and the keys that play it higher and lower. */
final readonly class Zone implements Settable
{
    use Settings;

    public const HIGHEST = 127;
    /** Notes a recording can be moved by either way, in semitones. */
    public const REACH = 60;

    /**
     * @param int $rootCents pitch of the recording: MIDI number times 100, and what it is off by
     * @param int $lowKey    lowest note it plays
     * @param int $highKey   highest one
     */
    public function __construct(public Layer $sound, public int $rootCents, public int $lowKey = 0, public int $highKey = self::HIGHEST)
    {
        if ($lowKey > $highKey) {
            throw new \InvalidArgumentException(\sprintf('%s: its lowest key must not lie above its highest.', $sound->name));
        }
    }

    public static function parameters(): array
    {
        return [
            'rootCents' => Parameter::whole('Root', 'cents', 0, 100 * self::HIGHEST, 6000),
            'lowKey' => Parameter::whole('Lowest key', '', 0, self::HIGHEST, 0),
            'highKey' => Parameter::whole('Highest key', '', 0, self::HIGHEST, self::HIGHEST),
        ];
    }

    /** One end of its keys takes the other along where it passes it. */
    public function with(array $changed): static
    {
        if (isset($changed['lowKey']) !== isset($changed['highKey'])) {
            $changed += isset($changed['lowKey']) ? ['highKey' => max($this->highKey, $changed['lowKey'])] : ['lowKey' => min($this->lowKey, $changed['highKey'] ?? self::HIGHEST)];
        }
        /** @var array{sound: Layer, rootCents: int, lowKey: int, highKey: int} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** By how many cents a note lies above the recording, or null when it is out of reach. */
    public function tuneCents(int $pitch): ?int
    {
        $cents = 100 * $pitch - $this->rootCents + $this->sound->tuneCents;

        return $pitch < $this->lowKey || $pitch > $this->highKey || abs($cents) > 100 * self::REACH ? null : $cents;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [...$this->sound->toArray(), ...$this->settings()];
    }
}
