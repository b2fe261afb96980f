<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\InsertKind;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Mix\Send;
use Pestle\Core\Theory\Parameter;

/** The mixer as arrays and back. */
final class MixerCodec
{
    /** @return array<string, mixed> */
    public static function toArray(Mixer $mixer): array
    {
        return [
            'nodes' => array_map(static fn (Node $node): array => $node->toArray(), array_values($mixer->nodes)),
            'master' => $mixer->master->toArray(),
        ];
    }

    /** @throws InvalidChange */
    public static function read(Fields $mixer): Mixer
    {
        $nodes = [];
        foreach ($mixer->rows('nodes', Mixer::MOST_NODES) as $n) {
            $sends = [];
            foreach ($n->rows('sends', Mixer::MOST_NODES) as $send) {
                $sends[$send->id('to')] = (new Send())->with($send->settings(Send::parameters()));
            }
            $node = new Node(
                $n->id('id'),
                $n->text('name'),
                $n->choice('kind', NodeKind::class),
                $n->has('output') ? $n->id('output') : null,
                $n->has('colour') ? SongCodec::colour($n) : null,
                inserts: self::inserts($n),
                sends: $sends,
                aside: self::aside($n),
            );
            $nodes[$node->id] = $node->with($n->settings(Node::parameters()));
        }
        $m = $mixer->nested('master');
        $master = new Master(inserts: self::inserts($m), aside: self::aside($m));
        try {
            return new Mixer($nodes, $master->with($m->settings(Master::parameters())));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    /** @return array<string, InsertSettings> */
    private static function aside(Fields $line): array
    {
        return array_column(array_map(static fn (Fields $i): array => ['insert' => self::insert($i), 'id' => $i->id('id')], $line->has('aside') ? $line->rows('aside', Node::MOST_INSERTS) : []), 'insert', 'id');
    }

    /** @return list<InsertSettings> */
    private static function inserts(Fields $line): array
    {
        return array_map(self::insert(...), $line->rows('inserts', Node::MOST_INSERTS));
    }

    /** @throws InvalidChange */
    private static function insert(Fields $i): InsertSettings
    {
        $kind = $i->choice('kind', InsertKind::class);
        $insert = InsertKind::Equalizer === $kind
            ? new EqualizerSettings($i->id('id'), array_map(self::band(...), $i->rows('bands', EqualizerSettings::MOST_BANDS)))
            : $kind->fresh($i->id('id'))->with(array_map(static fn (Parameter $p): mixed => $p->default, $kind->fresh('i1')::parameters()))->steeredBy($i->has('key') ? $i->id('key') : null);

        return $insert->with($i->settings($insert::parameters()));
    }

    private static function band(Fields $b): EqBand
    {
        return (new EqBand(EqShape::Peak, 1000.0))->with($b->settings(EqBand::parameters()));
    }
}
