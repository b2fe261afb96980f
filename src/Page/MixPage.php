<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;

/** What the workspace Mix shows: lines in their order, one of them opened into the way its sound takes. */
final readonly class MixPage
{
    /** The line that is open; empty for none. */
    public string $open;
    /** The one of its inserts that is shown in full. */
    public ?InsertSettings $insert;
    private Mixer $mixer;

    public function __construct(private Beat $beat, BeatPage $page)
    {
        $this->mixer = $beat->mixer;
        $chosen = $page->chosen('channel');
        $first = array_key_first($this->mixer->of(NodeKind::Channel));
        $this->open = 'none' === $chosen ? '' : (null !== $this->mixer->line($chosen) ? $chosen : (string) $first);
        $inserts = $this->mixer->line($this->open)->inserts ?? [];
        $named = array_filter($inserts, static fn (InsertSettings $i): bool => $i->id() === $page->chosen('insert'));
        $acting = array_filter($inserts, static fn (InsertSettings $i): bool => $i->acts());
        $this->insert = array_values([...$named, ...$acting, ...$inserts])[0] ?? null;
    }

    public function isEmpty(): bool
    {
        return [] === $this->mixer->of(NodeKind::Channel);
    }

    /** @return list<MixLine> channels, groups, returns, and the master */
    public function lines(): array
    {
        $roles = $from = [];
        foreach ($this->beat->kit->pads as $pad) {
            $roles[$pad->channel] ??= $pad->role;
            $from[$pad->channel][] = $pad->name;
        }
        foreach ($this->beat->parts as $part) {
            if (null !== $part->keys) {
                $roles[$part->keys->channel] ??= Role::Tonal;
                $from[$part->keys->channel][] = $part->name;
            }
        }
        $lines = [];
        foreach ([NodeKind::Channel, NodeKind::Group, NodeKind::Return] as $kind) {
            foreach ($this->mixer->of($kind) as $id => $node) {
                $feeding = $from[$id] ?? array_map(static fn (Node $n): string => $n->name, array_values(array_filter($this->mixer->nodes, static fn (Node $n): bool => \in_array((string) $id, $n->feeds(), true))));
                $sends = [];
                foreach ($node->sends as $to => $send) {
                    $sends[] = ['id' => (string) $to, 'name' => $this->mixer->nodes[$to]->name ?? '', 'send' => $send];
                }
                $lines[] = new MixLine((string) $id, $node->name, $kind->value, $node, $roles[$id] ?? null, self::listed($feeding), $this->way($node, array_column($sends, 'name')), $this->mixer->outputOf($node)?->name, $sends);
            }
        }

        return [...$lines, new MixLine(Master::ID, 'Master', 'master', $this->mixer->master, null, 'everything', $this->way($this->mixer->master, []), null, [])];
    }

    public function named(InsertSettings $insert): string
    {
        return EqualizerSettings::KIND === $insert->kind() ? 'EQ' : 'Compressor';
    }

    /** What an insert does, in a few words. */
    public function said(InsertSettings $insert): string
    {
        if (!$insert->acts()) {
            return 'at rest';
        }
        if ($insert instanceof EqualizerSettings) {
            $bands = array_filter($insert->bands, static fn (EqBand $b): bool => $b->isActive());

            return implode(', ', \array_slice(array_map(self::band(...), array_values($bands)), 0, 2));
        }

        return $insert instanceof CompressorSettings ? \sprintf('%s:1 from %s dB', round($insert->ratio, 1), round($insert->thresholdDb, 1)).(null === $insert->key ? '' : ', under '.($this->mixer->nodes[$insert->key]->name ?? 'silence')) : '';
    }

    public function placeOf(InsertSettings $insert): int
    {
        return (int) array_search($insert, $this->mixer->line($this->open)->inserts ?? [], true);
    }

    /** @return list<Node> lines that could steer an insert of this one */
    public function keys(string $line): array
    {
        $after = Master::ID === $line ? [] : $this->mixer->only($line)->nodes;

        return array_values(array_diff_key($this->mixer->nodes, $after, [$line => true]));
    }

    /** @return list<Node> groups a line could go to */
    public function groups(string $line): array
    {
        return array_values(array_filter($this->mixer->of(NodeKind::Group), fn (Node $group): bool => !isset($this->mixer->only($group->id)->nodes[$line])));
    }

    /** @return list<Node> returns a line is not sent to yet */
    public function freeReturns(string $line): array
    {
        $sends = $this->mixer->nodes[$line]->sends ?? [];

        return array_values(array_filter($this->mixer->of(NodeKind::Return), fn (Node $return): bool => !isset($sends[$return->id]) && !isset($this->mixer->only($return->id)->nodes[$line])));
    }

    public function freshId(string $kind): string
    {
        return $this->mixer->nextId(NodeKind::from($kind));
    }

    public function freshName(string $stem): string
    {
        $taken = array_map(static fn (Node $n): string => $n->name, $this->mixer->nodes);
        for ($n = 1; \in_array($stem.' '.$n, $taken, true); ++$n) {
        }

        return $stem.' '.$n;
    }

    /** @param list<string> $sends */
    private function way(Node|Master $line, array $sends): string
    {
        $acting = array_filter($line->inserts, static fn (InsertSettings $i): bool => $i->acts());
        $words = array_map(fn (InsertSettings $i): string => null === $i->key() ? $this->named($i) : 'makes room for '.($this->mixer->nodes[$i->key()]->name ?? 'silence'), array_values($acting));

        return implode(' · ', $words).([] === $sends ? '' : ' → '.implode(', ', $sends));
    }

    private static function band(EqBand $band): string
    {
        $hz = $band->hz >= 1000 ? round($band->hz / 1000, 1).' kHz' : round($band->hz).' Hz';

        return $band->shape->isPass() ? \sprintf('%s %s', lcfirst($band->shape->label()), $hz) : \sprintf('%+.1f dB at %s', $band->gainDb, $hz);
    }

    /** @param list<string> $names */
    private static function listed(array $names): string
    {
        $shown = \array_slice($names, 0, 3);

        return [] === $names ? 'nothing yet' : implode(', ', $shown).(\count($names) > 3 ? ' and '.(\count($names) - 3).' more' : '');
    }
}
