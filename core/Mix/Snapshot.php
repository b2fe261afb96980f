<?php

namespace Pestle\Core\Mix;

/** A mix that is kept: all lines as they were set. */
final readonly class Snapshot
{
    public const MOST = 12;

    public function __construct(public string $id, public string $name, public Mixer $mixer)
    {
    }

    /**
     * A mixer set as it was then: lines that came since stay as they are, channels that are gone stay away, and every line
     * keeps the name and colour it has now.
     *
     * @throws \InvalidArgumentException when the two together would go round in a circle
     */
    public function onto(Mixer $now): Mixer
    {
        $then = $this->mixer->nodes;
        $nodes = [];
        foreach ($now->nodes as $id => $node) {
            $nodes[$id] = isset($then[$id]) ? $then[$id]->with(['name' => $node->name, 'colour' => $node->colour]) : $node;
        }
        $nodes += array_filter($then, static fn (Node $node): bool => NodeKind::Channel !== $node->kind);
        $there = static fn (InsertSettings $i): InsertSettings => null === $i->key() || isset($nodes[$i->key()]) ? $i : $i->steeredBy(null);
        $nodes = array_map(static fn (Node $node): Node => $node->with(['inserts' => array_map($there, $node->inserts)]), $nodes);

        return new Mixer($nodes, $this->mixer->master->with(['inserts' => array_map($there, $this->mixer->master->inserts)]));
    }
}
