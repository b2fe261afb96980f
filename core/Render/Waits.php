<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Mix\Master;

/**
 * Where a line's inserts look ahead, its sound comes late; here is by how much every other way into the same line waits for
 * it. A way is called "voices", "from" and a line with the return it is sent to, or "key" and a line.
 */
final class Waits
{
    /** @var array<string, array<string, int>> frames by line and way, where they are more than none */
    private array $frames = [];

    public function __construct(Beat $beat, Routing $routing)
    {
        $mixer = $beat->mixer;
        foreach (0 === $mixer->late() ? [] : $routing->order as $id) {
            $enters = $mixer->enters[$id];
            $ways = isset($routing->sources[$id]) ? ['voices' => $enters] : [];
            foreach ($routing->feeds[$id] ?? [] as [$from, $send]) {
                $ways[self::from($from, $send)] = $enters - $mixer->leaves[$from];
            }
            foreach (array_intersect($mixer->line($id)?->keys() ?? [], $routing->order) as $key) {
                $ways[self::key($key)] = Master::ID === $key ? 0 : $enters - $mixer->leaves[$key];
            }
            $this->frames[$id] = array_filter($ways);
        }
    }

    public static function from(string $line, string $send): string
    {
        return 'from '.$line.' '.$send;
    }

    public static function key(string $line): string
    {
        return 'key '.$line;
    }

    /** Whether nothing has to wait anywhere: nothing looks ahead, or only what everything goes through. */
    public function areNone(): bool
    {
        return [] === array_filter($this->frames);
    }

    /** Frames for which a way into a line waits. */
    public function frames(string $line, string $way): int
    {
        return $this->frames[$line][$way] ?? 0;
    }

    /** @return list<InsertState> with nothing waiting, way after way */
    public function rest(string $line): array
    {
        return array_values(array_map(static fn (int $frames): InsertState => new InsertState(array_fill(0, 2 * $frames, 0.0)), $this->frames[$line] ?? []));
    }

    /** @param list<InsertState> $states as rest() */
    public function of(string $line, array $states): Waiting
    {
        return new Waiting(array_combine(array_keys($this->frames[$line] ?? []), $states));
    }
}
