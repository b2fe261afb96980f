<?php

namespace Pestle\Core\Synth;

/** Kits of sixteen made drums that come with Pestle: each its own sixteen, all of them turned one way. */
final class DrumKits
{
    /** Of each a seed, and what is added to the settings of its drums; lengths are multiplied. */
    private const TURNED = [
        'pavement' => [101, []],
        'cellar' => [202, ['tune' => -5.0, 'drop' => 3.0, 'wires' => -0.15, 'length' => 1.3]],
        'paper' => [303, ['tune' => 2.0, 'body' => -0.25, 'wires' => 0.2, 'length' => 0.5, 'dirt' => -2.0]],
        'rust' => [404, ['click' => 0.15, 'dirt' => 12.0]],
        'bath-house' => [505, ['wires' => 0.1, 'length' => 1.9]],
        'matchbox' => [606, ['tune' => 8.0, 'click' => 0.25, 'length' => 0.4]],
    ];
    public const NAMES = ['pavement' => 'Pavement, plain', 'cellar' => 'Cellar, low and long', 'paper' => 'Paper, thin and short', 'rust' => 'Rust, dirty', 'bath-house' => 'Bath house, ringing', 'matchbox' => 'Matchbox, tiny'];

    /** @return list<DrumSound>|null sixteen that belong together; null where there is no such kit */
    public static function find(string $id): ?array
    {
        if (!isset(self::TURNED[$id])) {
            return null;
        }
        [$seed, $turns] = self::TURNED[$id];

        return array_map(static fn (DrumSound $drum): DrumSound => self::turned($drum, $turns), DrumSound::kit($seed));
    }

    /** @param array<string, float> $turns */
    private static function turned(DrumSound $drum, array $turns): DrumSound
    {
        $set = [];
        foreach ($turns as $field => $by) {
            $own = $drum->settings()[$field];
            $own = is_numeric($own) ? (float) $own : 0.0;
            $set[$field] = (float) DrumSound::parameters()[$field]->nearest(round('length' === $field ? $own * $by : $own + $by, 2));
        }

        return $drum->with($set);
    }
}
