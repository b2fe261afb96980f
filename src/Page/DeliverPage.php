<?php

namespace Pestle\App\Page;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Exchange\DeliveryNames;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;

/** What the workspace Deliver says of the files before they are made. */
final class DeliverPage
{
    /** @return array{stemNames: array<string, list<array{name: string, file: string, return: bool}>>, stemFile: string, ownLines: list<array{id: string, name: string, stem: string}>, returns: bool, sizes: array<string, int>, bytes: array<array-key, int>} */
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

        $bytes = [];
        foreach (array_keys(DeliveryOrder::FORMATS) as $format) {
            $bytes[$format] = SampleFormat::from((string) $format)->bytes();
        }

        return ['stemNames' => $names, 'stemFile' => DeliveryNames::stem($beat, 99, '{}'), 'ownLines' => $lines, 'returns' => [] !== $returns, 'sizes' => self::sizes($beat), 'bytes' => $bytes];
    }

    /** @return array<string, int> frames by what may be delivered */
    private static function sizes(Beat $beat): array
    {
        $sizes = ['beat' => (new DeliveryOrder())->frames($beat)];
        foreach ([...array_keys($beat->sections), ...array_keys($beat->patterns)] as $id) {
            $sizes[$id] = (new DeliveryOrder($id))->frames($beat);
        }

        return $sizes;
    }
}
