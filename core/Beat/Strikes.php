<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Route;
use Pestle\Core\Kit\RoutedBy;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Wave;
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

        return $this->graded($pad->strengths(), $pad->channel, $pad->levelDb, [$pad->treatment]);
    }

    /** @return list<int> likewise of an instrument; none for a kit */
    public function onKeys(Part $part): array
    {
        $keys = $part->keys;

        if (null === $keys) {
            return [];
        }
        $all = $keys->all();
        $made = [] !== array_filter($all, static fn (Keys $one): bool => self::isMadeByStrength($one));

        return $this->graded($keys->strengths(), $keys->channel, max(array_column($all, 'levelDb')), array_column($all, 'treatment'), $made);
    }

    private static function isMadeByStrength(Keys $keys): bool
    {
        return [] !== array_filter($keys->waves, static fn (Wave $w): bool => $w->strength > 0.0)
            || [] !== array_filter($keys->routes, static fn (Route $r): bool => RoutedBy::Strength === $r->by)
            || $keys->blend->fadeStrengths > 0;
    }

    /** Another one when the pad would sound different on its own. */
    public function printOfPad(Pad $pad): string
    {
        $pad = $this->beat->soundingPad($pad->id) ?? $pad;

        return $this->print($pad, [$pad->treatment], array_column($pad->layers, 'sample'), $pad->channel);
    }

    /** Another one when a note of an instrument would sound different. */
    public function printOfKeys(Part $part): string
    {
        return $this->print($part->keys, array_column($part->keys?->all() ?? [], 'treatment'), array_column($part->keys?->sounds() ?? [], 'sample'), $part->keys->channel ?? '');
    }

    /**
     * @param list<Treatment> $treatments
     * @param list<string>    $samples
     */
    private function print(mixed $what, array $treatments, array $samples, string $channel): string
    {
        return substr(hash('sha256', serialize([$this->beat->rules, $this->tempo($treatments), $what, array_map($this->beat->sound(...), $samples), $this->beat->mixer->only($channel)])), 0, 16);
    }

    /**
     * The tempo, where something moves in time with it.
     *
     * @param list<Treatment> $treatments
     */
    private function tempo(array $treatments): ?float
    {
        $lfos = [...array_column($treatments, 'lfo1'), ...array_column($treatments, 'lfo2')];

        return [] === array_filter($lfos, static fn (Lfo $lfo): bool => $lfo->acts() && $lfo->ticks > 0) ? null : $this->beat->tempo->bpm;
    }

    /**
     * @param list<int>       $strengths
     * @param list<Treatment> $treatments of all that sounds together
     * @param bool            $made       whether it is made otherwise by the strength
     *
     * @return list<int>
     */
    private function graded(array $strengths, string $channel, float $levelDb, array $treatments, bool $made = false): array
    {
        $mixer = $this->beat->mixer->only($channel);
        $lines = [...array_values($mixer->nodes), $mixer->master];
        $compressed = [] !== array_filter($lines, static fn (Node|Master $line): bool => !$line->isLinear());
        // Samples reach full scale; what the limiter takes beyond that is heard when it is more than a little.
        $loudestDb = $levelDb + array_sum(array_map(static fn (Node|Master $line): float => $line->gainDb, $lines));
        $shaped = [] !== array_filter($treatments, static fn (Treatment $t): bool => $t->filter->acts() && 0.0 !== $t->filter->strengthCents);
        if ($made || $compressed || $shaped || $loudestDb > $mixer->master->ceilingDb + self::UNHEARD_DB) {
            $strengths = array_values(array_unique([...$strengths, ...self::GRADES]));
            sort($strengths);
        }

        return $strengths;
    }
}
