<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Movements;

/** A mix that is kept: all lines as they were set. */
final readonly class Snapshot
{
    public const MOST = 12;

    /** @param Movements $movements what moved in it then */
    public function __construct(public string $id, public string $name, public Mixer $mixer, public Movements $movements = new Movements())
    {
    }

    /** What moves in a mixer that was set as it was then: its lines as they moved then, those that came since as they do now. */
    public function moving(Movements $now): Movements
    {
        return $now->only(fn (Movement $m): bool => !$m->movesMixer() || !$this->mixer->holds($m->path) && null === $this->mixer->line(explode('/', $m->path)[1] ?? ''))->and($this->movements);
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
