<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Swing;
use Pestle\Core\Theory\Tempo;

/**
 * From what is written to what is played: first drawn to the grid, then moved by the groove, swung, shifted and loosened;
 * strengths are spread, follow the groove and are scattered. Places come out in 256ths of a tick, as hits and notes
 * keep them, so that what is written in is played as it was played on top. Chance is a function of the beat's seed and
 * of the event, the same in every pass.
 */
final readonly class Feeling
{
    private const FINE = Hit::FINE;

    private Swing $swing;

    public function __construct(private Feel $feel, private ?Groove $groove, private Tempo $tempo, private int $seed, private SoundRules $rules = SoundRules::NEWEST)
    {
        $this->swing = $feel->pairs();
    }

    /** An event as it is played: its place, strength and length changed. Its tick may lie before 0, or beyond the pattern. */
    public function played(Hit|Note $event): Hit|Note
    {
        if ($this->isPlain()) {
            return $event;
        }
        if ($this->feel->isOnlySwing()) {
            return $event->placed((int) round($this->swung($event->tick + $event->fine / self::FINE) * self::FINE), $event->velocity, $event->lengthTicks());
        }
        $written = $event->tick + $event->fine / self::FINE;
        $drawn = $this->drawn($written);
        [$late, $level] = null === $this->groove ? [0.0, 1.0] : $this->groove->at($drawn);
        $place = $drawn + 0.01 * $this->feel->grooveTiming * $late;
        // Swing counts from the pattern's start, also for what lies before it.
        $swung = $place < 0.0 ? $place : $this->swung($place);
        $chance = 0.0 === $this->feel->timingMs ? 0.0 : $this->feel->timingMs * $this->chance($event, 'time');
        $place = $swung + $this->feel->shiftTicks + $this->tempo->exactTicks(($this->feel->shiftMs + $chance) / 1000.0);
        $length = $event->lengthTicks();
        if ($this->feel->ends) {
            $length = max(1.0, $this->drawn($written + $length) - $drawn);
        }

        return $event->placed((int) round($place * self::FINE), $this->strength($event, $level), $length);
    }

    /** Whether everything is played as it is written. */
    public function isPlain(): bool
    {
        return $this->feel->isPlain();
    }

    /** Whether it may move what lies at an edge of its pattern beyond it. */
    public function movesOut(): bool
    {
        return $this->feel->on && !$this->feel->isOnlySwing();
    }

    /** Where a tick would be written to be heard there: without what swing and shifting add. */
    public function written(float $tick): int
    {
        if (!$this->feel->on) {
            return (int) round($tick);
        }

        $tick = max(0.0, $tick - $this->feel->shiftTicks - $this->tempo->exactTicks($this->feel->shiftMs / 1000.0));

        return SoundRules::First === $this->rules ? $this->swing->written((int) round($tick)) : (int) round($this->swing->writtenAt($tick));
    }

    /** By the first rules in whole ticks, and triplets with the rest. */
    private function swung(float $place): float
    {
        $whole = (int) floor($place);

        return SoundRules::First === $this->rules ? $this->swing->sounding($whole) + $place - $whole : $this->swing->at($place);
    }

    private function drawn(float $place): float
    {
        $off = round($place / $this->feel->grid) * $this->feel->grid - $place;

        return abs($off) > 0.005 * $this->feel->window * $this->feel->grid ? $place : $place + 0.01 * $this->feel->quantise * $off;
    }

    private function strength(Hit|Note $event, float $level): int
    {
        $velocity = $this->feel->middle + 0.01 * $this->feel->spread * ($event->velocity - $this->feel->middle);
        $velocity *= 1.0 + 0.01 * $this->feel->grooveLevel * ($level - 1.0);
        $velocity = match ($this->feel->scatter) {
            Scatter::None => $velocity,
            Scatter::Around => $velocity + $this->feel->around * $this->chance($event, 'strength'),
            Scatter::Between => $this->feel->softest + ($this->feel->hardest - $this->feel->softest) * 0.5 * (1.0 + $this->chance($event, 'strength')),
        };

        return max(1, min(127, (int) round($velocity)));
    }

    /** Between -1 and 1. */
    private function chance(Hit|Note $event, string $what): float
    {
        return hexdec(hash('crc32b', $this->seed.' '.$event->key().' '.$what)) / 0x7FFFFFFF - 1.0;
    }
}
