<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Tempo;

/** Channels, groups, returns and the master: a graph without circles. */
final readonly class Mixer
{
    public const MOST_NODES = 640;
    /** What rings longer than this is left: the end of a song comes at some time. */
    private const MOST_SECONDS = 45.0;
    public const DRUMS = 'drums';
    /** Longest that all look-aheads on the way of a sound take together, in seconds. */
    public const MOST_LATE = 0.035;
    /** What the document is worked out at. */
    private const RATE = 44100.0;

    /** @var list<string> ids of all nodes, each after those that feed or steer it */
    public array $order;
    /** @var array<string, int> frames by which sound is late where it goes into a line, and where it comes out */
    public array $enters;
    /** @var array<string, int> */
    public array $leaves;

    /**
     * @param array<string, Node> $nodes by id, in the order the maker sees them
     *
     * @throws \InvalidArgumentException when there are too many, or some go round in a circle
     */
    public function __construct(public array $nodes, public Master $master)
    {
        if (\count($nodes) > self::MOST_NODES) {
            throw new \InvalidArgumentException(\sprintf('A beat has at most %d channels: clear pads first.', self::MOST_NODES));
        }
        if (isset($nodes[Master::ID])) {
            throw new \InvalidArgumentException(\sprintf('No line but the last is called %s.', Master::ID));
        }
        $this->order = $this->sorted(static fn (Node $node): array => $node->keys());
        [$this->enters, $this->leaves] = $this->lateness();
        if ($this->late() > self::MOST_LATE * self::RATE) {
            throw new \InvalidArgumentException(\sprintf('Compressors and limiters one behind another would look ahead by %d ms together; at most %d ms are possible. Let one of them look less far.', round(1000.0 * $this->late() / self::RATE), round(1000.0 * self::MOST_LATE)));
        }
    }

    /** Frames by which the finished mix comes late, before it is put back to its place. */
    public function late(): int
    {
        return $this->leaves[Master::ID];
    }

    /**
     * How late sound is where it goes into a line, and where it comes out: whatever comes in earlier waits for what comes latest.
     *
     * @return array{array<string, int>, array<string, int>}
     */
    private function lateness(): array
    {
        $own = static fn (Node|Master $line): int => (int) array_sum(array_map(static fn (InsertSettings $i): int => $i->acts() ? $i->lateFrames(self::RATE) : 0, $line->inserts));
        $enters = $leaves = [];
        foreach ([...array_map(fn (string $id): Node => $this->nodes[$id], $this->order), $this->master] as $line) {
            $id = $line instanceof Node ? $line->id : Master::ID;
            $enters[$id] = max([$enters[$id] ?? 0, ...array_map(static fn (string $key): int => $leaves[$key] ?? 0, $line->keys())]);
            $leaves[$id] = $enters[$id] + $own($line);
            foreach ($line instanceof Node ? [...$line->feeds(), ...null === $this->outputOf($line) ? [Master::ID] : []] : [] as $to) {
                $enters[$to] = max($enters[$to] ?? 0, $leaves[$id]);
            }
        }

        return [$enters, $leaves];
    }

    public static function empty(): self
    {
        return new self([self::DRUMS => Node::group(self::DRUMS, 'Drums')], Master::fresh());
    }

    /** @return array<string, Node> */
    public function of(NodeKind $kind): array
    {
        return array_filter($this->nodes, static fn (Node $node): bool => $node->kind === $kind);
    }

    public function with(Node $node): self
    {
        return new self(array_replace($this->nodes, [$node->id => $node]), $this->master);
    }

    /** A node further up (-1) or down (1) among those of its kind; where there is none to change places with it stays. */
    public function moved(string $id, int $by): self
    {
        $kind = $this->nodes[$id]->kind;
        $ids = array_map(strval(...), array_keys($this->of($kind)));
        $at = (int) array_search($id, $ids, true);
        if (!isset($ids[$at + $by])) {
            return $this;
        }
        [$ids[$at], $ids[$at + $by]] = [$ids[$at + $by], $ids[$at]];
        $nodes = [];
        foreach ($this->nodes as $old => $node) {
            $next = $node->kind === $kind ? array_shift($ids) ?? $old : $old;
            $nodes[$next] = $this->nodes[$next];
        }

        return new self($nodes, $this->master);
    }

    /** Without a node: what fed it goes where it went, what it steered follows itself again. */
    public function without(string $id): self
    {
        $gone = $this->nodes[$id] ?? null;
        $free = static fn (InsertSettings $i): InsertSettings => $i->key() === $id ? $i->steeredBy(null) : $i;
        $nodes = [];
        foreach (array_diff_key($this->nodes, [$id => true]) as $key => $node) {
            $nodes[$key] = $node->with([
                'output' => $node->output === $id ? $gone?->output : $node->output,
                'sends' => array_diff_key($node->sends, [$id => true]),
                'inserts' => array_map($free, $node->inserts),
            ]);
        }

        return new self($nodes, $this->master->with(['inserts' => array_map($free, $this->master->inserts)]));
    }

    /** A node, or the master. */
    public function line(string $id): Node|Master|null
    {
        return Master::ID === $id ? $this->master : $this->nodes[$id] ?? null;
    }

    /** Whether a line has what a path names: itself, or the insert, band or send that a parameter is of. */
    public function holds(string $path): bool
    {
        [, $line, $rest] = [...explode('/', $path, 3), '', ''];
        $holder = $this->line($line);

        return null !== $holder && (basename($rest) === $rest || isset($holder->inner()[\dirname($rest)]));
    }

    public function withLine(Node|Master $line): self
    {
        return $line instanceof Node ? $this->with($line) : $this->withMaster($line);
    }

    public function withMaster(Master $master): self
    {
        return new self($this->nodes, $master);
    }

    /** Where a node goes; a group that is gone stands for the master. */
    public function outputOf(Node $node): ?Node
    {
        return $this->nodes[$node->output ?? ''] ?? null;
    }

    /** Whether a node lets anything out, given mutes and solos: as gains of nothing and one. */
    public function isOpen(Node $node): bool
    {
        if ($node->mute) {
            return false;
        }
        $soloed = NodeKind::Channel !== $node->kind || !$this->hasSolo();
        for ($at = $node; !$soloed && null !== $at; $at = $this->outputOf($at)) {
            $soloed = $at->solo;
        }

        return $soloed;
    }

    /** Whether it is open and so is its way to the master. */
    public function isHeard(Node $node): bool
    {
        for ($at = $node; null !== $at; $at = $this->outputOf($at)) {
            if (!$this->isOpen($at)) {
                return false;
            }
        }

        return true;
    }

    /** A node and those it goes on to, all of them open: what a sound meets that is played alone. */
    public function only(string $id): self
    {
        $kept = [];
        for ($open = [$id]; [] !== $open;) {
            $node = $this->nodes[array_pop($open)] ?? null;
            if (null !== $node && !isset($kept[$node->id])) {
                $kept[$node->id] = $node->with(['mute' => false, 'solo' => false]);
                array_push($open, ...$node->feeds());
            }
        }

        return new self($kept, $this->master);
    }

    /** How long the slowest insert of all lines is heard after its sound has ended, in seconds. */
    public function rings(Tempo $tempo): float
    {
        $seconds = InsertSettings::USUAL_SECONDS;
        foreach ([...array_values($this->nodes), $this->master] as $line) {
            foreach ($line->inserts as $insert) {
                $seconds = max($seconds, $insert->acts() ? $insert->seconds($tempo) : 0.0);
            }
        }

        return min(self::MOST_SECONDS, $seconds);
    }

    public function hasSolo(): bool
    {
        return [] !== array_filter($this->nodes, static fn (Node $node): bool => $node->solo);
    }

    public function nextId(NodeKind $kind): string
    {
        for ($n = 1; isset($this->nodes[$kind->letter().$n]); ++$n) {
        }

        return $kind->letter().$n;
    }

    /**
     * Also of inserts that rest, which may be switched on later.
     *
     * @throws \InvalidArgumentException when some lines go round in a circle
     */
    public function refuseCircles(): void
    {
        $this->sorted(static fn (Node $node): array => $node->namedKeys());
    }

    /**
     * @param \Closure(Node): list<string> $keys lines that steer one
     *
     * @return list<string>
     */
    private function sorted(\Closure $keys): array
    {
        $into = [];
        foreach ($this->nodes as $node) {
            foreach ($node->feeds() as $to) {
                $into[$to][] = $node->id;
            }
            foreach ($keys($node) as $key) {
                $into[$node->id][] = $key;
            }
        }
        $order = $done = [];
        foreach (array_keys($this->nodes) as $id) {
            $this->visit((string) $id, $into, $done, $order);
        }

        return $order;
    }

    /**
     * Depth first (Cormen et al., "Introduction to Algorithms", topological sort).
     *
     * @param array<string, list<string>> $into  lines that feed or steer each
     * @param array<string, bool>         $done  false while it is on the way
     * @param list<string>                $order
     */
    private function visit(string $id, array $into, array &$done, array &$order): void
    {
        if (!isset($this->nodes[$id]) || true === ($done[$id] ?? null)) {
            return;
        }
        if (isset($done[$id])) {
            throw new \InvalidArgumentException(\sprintf('%s would go round in a circle: it feeds or steers what it comes from.', $this->nodes[$id]->name));
        }
        $done[$id] = false;
        foreach ($into[$id] ?? [] as $before) {
            $this->visit($before, $into, $done, $order);
        }
        $done[$id] = true;
        $order[] = $id;
    }
}
