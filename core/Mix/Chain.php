<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Settable;

/** What has inserts: a line of the mixer, or the master. */
trait Chain
{
    /** @throws \InvalidArgumentException when it has no such insert */
    public function insert(string $id): InsertSettings
    {
        foreach ($this->inserts as $insert) {
            if ($insert->id() === $id) {
                return $insert;
            }
        }

        throw new \InvalidArgumentException('This insert is no longer there.');
    }

    public function withInsert(InsertSettings $changed): static
    {
        return $this->with(['inserts' => array_map(static fn (InsertSettings $i): InsertSettings => $i->id() === $changed->id() ? $changed : $i, $this->inserts)]);
    }

    /** The settings of an insert are kept aside, beside those it goes on with. */
    public function keepingAside(string $id): static
    {
        return $this->with(['aside' => array_replace($this->aside, [$id => $this->insert($id)])]);
    }

    /** What is kept aside becomes what it is set to, and the other way round; its place and whether it is there stay. */
    public function swapped(string $id): static
    {
        $other = $this->aside[$id] ?? throw new \InvalidArgumentException('No other settings of this insert are kept.');

        return $this->keepingAside($id)->withInsert($other);
    }

    public function forgetting(string $id): static
    {
        return $this->with(['aside' => array_diff_key($this->aside, [$id => true])]);
    }

    /** Behind those it has, under a name of its own. On a return rooms and echoes are heard alone: the sound itself comes by another way. */
    public function followedBy(InsertSettings $insert): static
    {
        $named = $insert->with(['id' => $this->nextInsertId()]);
        if ($this instanceof Node && NodeKind::Return === $this->kind && ($named instanceof ReverbSettings || $named instanceof DelaySettings)) {
            $named = $named->with(['mix' => 100.0]);
        }

        return $this->with(['inserts' => [...$this->inserts, $named]]);
    }

    public function nextInsertId(): string
    {
        $taken = array_map(static fn (InsertSettings $i): string => $i->id(), $this->inserts);
        for ($n = 1; \in_array('i'.$n, $taken, true); ++$n) {
        }

        return 'i'.$n;
    }

    /** Whether all that is at work makes twice as much of a sound twice as strong. */
    public function isLinear(): bool
    {
        return [] === array_filter($this->inserts, static fn (InsertSettings $i): bool => $i->acts() && !$i->isLinear());
    }

    /** @return list<string> lines whose sound steers its inserts */
    public function keys(): array
    {
        return array_values(array_unique(array_filter(array_map(static fn (InsertSettings $i): ?string => $i->acts() ? $i->key() : null, $this->inserts), is_string(...))));
    }

    /** @return list<string> as keys(), of inserts that rest or are kept aside as well */
    public function namedKeys(): array
    {
        return array_values(array_unique(array_filter(array_map(static fn (InsertSettings $i): ?string => $i->key(), [...$this->inserts, ...array_values($this->aside)]), is_string(...))));
    }

    /** @return array<string, Settable> */
    private function insideInserts(): array
    {
        $inside = [];
        foreach ($this->inserts as $insert) {
            $inside['inserts/'.$insert->id()] = $insert;
            foreach ($insert->inner() as $path => $inner) {
                $inside['inserts/'.$insert->id().'/'.$path] = $inner;
            }
        }

        return $inside;
    }

    private function withInsideInsert(string $path, Settable $inner): static
    {
        [, $id, $rest] = [...explode('/', $path, 3), ''];
        $insert = '' === $rest ? $inner : $this->insert($id)->withInner($rest, $inner);

        return $insert instanceof InsertSettings ? $this->withInsert($insert) : throw new \OutOfBoundsException('No insert: '.$path);
    }
}
