<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Master;
use Pestle\Core\Song\Part;

/** Which lines of a mixer have to be rendered, in what order, and what feeds each of them. */
final readonly class Routing
{
    /** @var list<string> lines that are heard or steer one that is, each after what feeds or steers it; the master is the last */
    public array $order;
    /** @var array<string, list<array{string, string}>> by line: lines that feed it, and the return it is where they do by a send, or "" */
    public array $feeds;
    /** @var array<string, list<string>> by channel: pads, parts on keys and tracks that feed it */
    public array $sources;
    /** @var array<string, true> lines whose sound is wanted before their fader, to steer another */
    public array $steering;

    public function __construct(Beat $beat)
    {
        $mixer = $beat->mixer;
        $feeds = $needed = $steering = $sources = [];
        foreach (array_filter($mixer->nodes, $mixer->isOpen(...)) as $id => $node) {
            $feeds[$mixer->outputOf($node)->id ?? Master::ID][] = [(string) $id, ''];
            foreach (array_keys(array_intersect_key($node->sends, $mixer->nodes)) as $return) {
                $feeds[$return][] = [(string) $id, (string) $return];
            }
        }
        for ($open = [Master::ID]; [] !== $open;) {
            $id = array_pop($open);
            if (isset($needed[$id])) {
                continue;
            }
            $needed[$id] = true;
            foreach (array_intersect($mixer->line($id)?->keys() ?? [], array_keys($mixer->nodes)) as $key) {
                $steering[$key] = true;
                $open[] = $key;
            }
            array_push($open, ...array_column($feeds[$id] ?? [], 0));
        }
        $this->order = [...array_values(array_filter($mixer->order, static fn (string $id): bool => isset($needed[$id]))), Master::ID];
        foreach ($beat->kit->pads as $id => $pad) {
            $sources[$pad->channel][] = (string) $id;
        }
        foreach (array_filter($beat->parts, static fn (Part $part): bool => !$part->isKit()) as $id => $part) {
            $sources[$part->keys->channel ?? ''][] = (string) $id;
        }
        foreach ($beat->tracks as $id => $track) {
            $sources[$track->channel][] = (string) $id;
        }
        [$this->feeds, $this->sources, $this->steering] = [$feeds, $sources, $steering];
    }
}
