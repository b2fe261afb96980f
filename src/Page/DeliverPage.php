<?php

namespace Pestle\App\Page;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\SongBars;
use Pestle\Core\Exchange\DeliveryNames;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Render\SongPlaces;

/** What the workspace Deliver says of the files before they are made. */
final class DeliverPage
{
    /** @return array{stemNames: array<string, list<array{name: string, file: string, return: bool}>>, stemFile: string, ownLines: list<array{id: string, name: string, stem: string}>, returns: bool, mixFile: string, songBars: int, starts: list<int>, sizes: array<string, int>, bytes: array<array-key, int>} */
    public static function of(Beat $beat): array
    {
        $returns = array_map(static fn (Node $node): string => $node->name, $beat->mixer->of(NodeKind::Return));
        $names = [];
        foreach ([StemGrouping::Part, StemGrouping::Channel, StemGrouping::Group, StemGrouping::Pad] as $grouping) {
            $stems = $grouping->stems($beat, [], true) ?? [];
            $own = array_intersect_key($stems, $returns);
            foreach (array_values(array_unique($stems)) as $i => $name) {
                $names[$grouping->value][] = ['name' => $name, 'file' => DeliveryNames::stem($beat, $i + 1, $name), 'return' => \in_array($name, $own, true)];
            }
        }
        $lines = [];
        foreach ([...$beat->mixer->of(NodeKind::Channel), ...$beat->mixer->of(NodeKind::Return)] as $id => $node) {
            $lines[] = ['id' => (string) $id, 'name' => $node->name, 'stem' => $beat->mixer->outputOf($node)->name ?? $node->name];
        }

        $bars = SongBars::of($beat);
        $bytes = [];
        foreach (array_keys(DeliveryOrder::FORMATS) as $format) {
            $bytes[$format] = SampleFormat::from((string) $format)->bytes();
        }

        return ['stemNames' => $names, 'stemFile' => DeliveryNames::stem($beat, 99, '{}'), 'ownLines' => $lines, 'returns' => [] !== $returns, 'mixFile' => DeliveryNames::mix($beat, $beat->name), 'songBars' => \count($bars->starts), 'starts' => self::frames($beat, $bars), 'sizes' => self::sizes($beat), 'bytes' => $bytes];
    }

    /** @return list<int> frames at which bars of the song begin, and at which the last ends */
    private static function frames(Beat $beat, SongBars $bars): array
    {
        return array_map(static fn (int $tick): int => SongPlaces::frameOf($beat, $tick), [...$bars->starts, $bars->end]);
    }

    /** @return array<string, int> frames by what may be delivered */
    private static function sizes(Beat $beat): array
    {
        $sizes = ['beat' => (new DeliveryOrder())->frames($beat)];
        foreach ([...array_keys($beat->sections), ...array_keys($beat->patterns)] as $id) {
            $sizes[$id] = (new DeliveryOrder($id))->frames($beat);
        }
        $sizes['sections'] = (int) array_sum(array_intersect_key($sizes, $beat->sections));
        $sizes['patterns'] = (int) array_sum(array_intersect_key($sizes, array_filter($beat->patterns, static fn (Pattern $p): bool => !$p->isEmpty())));

        return $sizes;
    }
}
