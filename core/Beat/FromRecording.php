<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Pattern\ReadyMade;
use Pestle\Core\Sample\Description;
use Pestle\Core\Song\Part;
use Pestle\Core\Theory\Ticks;

/** What was heard in a recording as a pattern for a part: hits on pads of the roles that were heard, or notes, and as many bars as it lasts. */
final readonly class FromRecording
{
    /** How strong a level is, as a power: ears hear half the level as more than half as strong. */
    private const STRENGTH = 0.6;
    /** A bar more is begun only for more than this of it. */
    private const BEGUN = 0.05;

    /** @param \Closure(float): float $quarterAt which quarter of the beat is at a second of the recording */
    public function __construct(private Beat $beat, private Part $part, private \Closure $quarterAt)
    {
    }

    /**
     * @param list<array{int, string, float, float}> $heard frame, kind, how sure, level
     *
     * @return list<Hit> on the part's pads; what finds no pad of its role goes to percussion, and else nowhere
     */
    public function hits(array $heard, int $rate): array
    {
        $pads = array_values(array_filter($this->beat->kit->pads, fn (Pad $pad): bool => $this->beat->kit->partOf($pad->id) === $this->part->id));
        $hits = [];
        foreach ($heard as [$frame, $kind, , $level]) {
            $pad = ReadyMade::padFor(Description::roleOf($kind), $pads) ?? ReadyMade::padFor(Role::Percussion, $pads);
            $tick = Ticks::PER_QUARTER * ($this->quarterAt)($frame / $rate);
            if (null !== $pad && $tick > -Ticks::PER_STEP / 2) {
                $hits[] = Hit::finely(max(0.0, $tick), $pad->id, max(1, min(127, (int) round(127 * $level ** self::STRENGTH))), Ticks::PER_STEP);
            }
        }

        return $hits;
    }

    /** How many bars of the beat it lasts, to its last second. */
    public function bars(float $seconds): int
    {
        $bars = Ticks::PER_QUARTER * ($this->quarterAt)($seconds) / $this->beat->meter->barTicks();

        return max(1, min(Pattern::MAX_BARS, (int) ceil($bars - self::BEGUN)));
    }

    /**
     * @param array<string, mixed> $events hits or notes, as rows
     *
     * @return array<string, mixed> the change that makes the pattern
     */
    public function change(string $section, string $name, float $seconds, array $events): array
    {
        $name = mb_substr($name, 0, 70).($this->part->isKit() ? ' on pads' : ' as notes');
        $ticks = $this->bars($seconds) * $this->beat->meter->barTicks();

        return ['type' => 'land-patterns', 'section' => $section, 'patterns' => [['id' => $this->beat->nextPatternId(), 'name' => $name, 'part' => $this->part->id, 'ticks' => $ticks, ...$events]]];
    }
}
