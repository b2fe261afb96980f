<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Theory\Key;

/**
 * Key of a recording from its pitch classes: how they agree with a key's notes, with its tonic in the bass, and with
 * its tonic chord at the start and end. The weights are a conditional logit fitted to chord loops in all keys.
 * Source: C. Krumhansl, "Cognitive Foundations of Musical Pitch" (1990), for judging by profiles.
 */
final readonly class KeyGuess
{
    /** @param float $confidence 0 to 1 */
    private function __construct(public Key $key, public float $confidence)
    {
    }

    public static function of(Chroma $chroma): ?self
    {
        if (0.0 === array_sum($chroma->all)) {
            return null;
        }
        $candidates = self::candidates($chroma);
        $likely = Fitted::choice('key', array_column($candidates, 1));
        $best = (int) array_search(max($likely), $likely, true);

        return new self($candidates[$best][0], $likely[$best]);
    }

    /** @return non-empty-list<array{Key, list<float>}> every key and what speaks for it */
    public static function candidates(Chroma $chroma): array
    {
        $out = [];
        foreach ([false, true] as $minor) {
            for ($tonic = 0; $tonic < 12; ++$tonic) {
                /** @param list<float> $notes */
                $from = static fn (array $notes, int $interval): float => \is_float($value = $notes[($tonic + $interval) % 12]) ? $value : 0.0;
                $features = array_fill(0, 24, 0.0);
                for ($i = 0; $i < 12; ++$i) {
                    $features[$i + ($minor ? 12 : 0)] = $from($chroma->all, $i);
                }
                [$third, $other] = $minor ? [3, 4] : [4, 3];
                $out[] = [Key::of($tonic, $minor), [
                    ...$features, $from($chroma->bass, 0), $from($chroma->bass, 7), $from($chroma->first, 0), $from($chroma->first, $third),
                    $from($chroma->first, $other), $from($chroma->last, 0), $from($chroma->last, $third), $minor ? 1.0 : 0.0,
                ]];
            }
        }

        return $out;
    }
}
