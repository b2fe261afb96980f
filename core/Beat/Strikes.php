<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Node;
use Pestle\Core\Song\Part;

/**
 * What a pad or an instrument that is played live sounds like at each strength, so far as others may stand for it: between two
 * strengths that sound alike only a fader moves.
 */
final readonly class Strikes
{
    /** Strengths at which what is not linear is listened to. Those of the keyboard are among them. */
    private const GRADES = [20, 40, 58, 76, 92, 108, 127];
    /** What a limiter takes off of a full-scale sound without being heard. */
    private const UNHEARD_DB = 3.0;

    public function __construct(private Beat $beat)
    {
    }

    /**
     * The highest strength of each stretch that has a sound of its own: where other layers answer, and where a filter, a
     * compressor it meets, or the limiter, makes something else of it.
     *
     * @return list<int> ascending, the last is 127
     */
    public function onPad(Pad $pad): array
    {
        $pad = $this->beat->soundingPad($pad->id) ?? $pad;

        return $this->graded($pad->strengths(), $pad->channel, $pad->levelDb, $pad->treatment);
    }

    /** @return list<int> likewise of an instrument; none for a kit */
    public function onKeys(Part $part): array
    {
        $keys = $part->keys;

        if (null === $keys) {
            return [];
        }
        $made = [] !== array_filter($keys->waves, static fn (Wave $w): bool => $w->strength > 0.0);

        return $this->graded($keys->strengths(), $keys->channel, $keys->levelDb, $keys->treatment, $made);
    }

    /** Another one when the pad would sound different on its own. */
    public function printOfPad(Pad $pad): string
    {
        $pad = $this->beat->soundingPad($pad->id) ?? $pad;

        return $this->print($pad, $pad->treatment, array_column($pad->layers, 'sample'), $pad->channel);
    }

    /** Another one when a note of an instrument would sound different. */
    public function printOfKeys(Part $part): string
    {
        return $this->print($part->keys, $part->keys?->treatment, array_map(static fn (Zone $z): string => $z->sound->sample, $part->keys->zones ?? []), $part->keys->channel ?? '');
    }

    /** @param list<string> $samples */
    private function print(mixed $what, ?Treatment $treatment, array $samples, string $channel): string
    {
        return substr(hash('sha256', serialize([$this->beat->rules, $this->tempo($treatment), $what, array_map($this->beat->sound(...), $samples), $this->beat->mixer->only($channel)])), 0, 16);
    }

    /** The tempo, where something moves in time with it. */
    private function tempo(?Treatment $treatment): ?float
    {
        return [] === array_filter([$treatment?->lfo1, $treatment?->lfo2], static fn (?Lfo $lfo): bool => true === $lfo?->acts() && $lfo->ticks > 0) ? null : $this->beat->tempo->bpm;
    }

    /**
     * @param list<int> $strengths
     * @param bool      $made      whether it is made otherwise by the strength
     *
     * @return list<int>
     */
    private function graded(array $strengths, string $channel, float $levelDb, Treatment $treatment, bool $made = false): array
    {
        $mixer = $this->beat->mixer->only($channel);
        $lines = [...array_values($mixer->nodes), $mixer->master];
        $compressed = [] !== array_filter($lines, static fn (Node|Master $line): bool => !$line->isLinear());
        // Samples reach full scale; what the limiter takes beyond that is heard when it is more than a little.
        $loudestDb = $levelDb + array_sum(array_map(static fn (Node|Master $line): float => $line->gainDb, $lines));
        $shaped = $treatment->filter->acts() && 0.0 !== $treatment->filter->strengthCents;
        if ($made || $compressed || $shaped || $loudestDb > $mixer->master->ceilingDb + self::UNHEARD_DB) {
            $strengths = array_values(array_unique([...$strengths, ...self::GRADES]));
            sort($strengths);
        }

        return $strengths;
    }
}
