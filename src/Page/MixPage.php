<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\DuckerSettings;
use Pestle\Core\Mix\FilterSettings;
use Pestle\Core\Mix\InsertKind;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Mix\NoteLength;
use Pestle\Core\Mix\ReadyChain;
use Pestle\Core\Mix\SweptShape;
use Pestle\Core\Mix\TremoloStyle;
use Pestle\Core\Theory\Parameter;

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
        foreach ($this->beat->tracks as $track) {
            $roles[$track->channel] ??= Role::Effect;
            $from[$track->channel][] = $track->name;
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

    /** What an insert does, in a few words. */
    public function said(InsertSettings $insert): string
    {
        return InsertWords::of($insert).(null === $insert->key() || !$insert->acts() ? '' : ', under '.($this->mixer->nodes[$insert->key()]->name ?? 'silence'));
    }

    public function picture(InsertSettings $insert): InsertPicture
    {
        return new InsertPicture($insert, $this->beat->tempo, $this->beat->rules);
    }

    /** @return list<array{name: string, set: array<string, float>, isSet: bool}> how a ducker steps back: from gentle to abrupt by one control, and in time with the beat */
    public function waysBack(DuckerSettings $ducker): array
    {
        $ways = DuckerSettings::ways();
        foreach ([1 => '1/16', 2 => '1/8', 4 => '1/4', 8 => '1/2'] as $sixteenths => $name) {
            $ways['back in '.$name] = DuckerSettings::backAfter($sixteenths, $this->beat->tempo);
        }
        $is = $ducker->settings();

        return array_map(static fn (string $name, array $set): array => ['name' => $name, 'set' => $set, 'isSet' => $set === array_intersect_key(array_replace($set, $is), $set)], array_keys($ways), $ways);
    }

    /** @return list<InsertKind> what can be put in */
    public function kinds(): array
    {
        return InsertKind::cases();
    }

    /** @return list<ReadyChain> */
    public function chains(): array
    {
        return ReadyChain::cases();
    }

    /** @return array{id: string, gainDb: float, says: string} what an insert listens to, as it is drawn */
    public function heard(string $line, InsertSettings $insert): array
    {
        $key = $insert->key();
        $heard = $this->mixer->line($key ?? $line);

        return ['id' => $key ?? $line, 'gainDb' => $heard->gainDb ?? 0.0, 'says' => (null === $key ? 'What comes out of '.($heard instanceof Node ? $heard->name : 'the master') : ($heard instanceof Node ? $heard->name : 'Silence')).' before its fader over the loop, and how far this pulls down.'];
    }

    /** Whether another line could steer it. */
    public function isSteered(InsertSettings $insert): bool
    {
        return property_exists($insert, 'key');
    }

    /** @return array<string, Parameter> what is set of an insert, without what its other settings leave without meaning */
    public function parameters(InsertSettings $insert): array
    {
        $set = $insert->settings();
        $free = NoteLength::Free === ($set['time'] ?? null);
        $ring = TremoloStyle::Ring === ($set['style'] ?? null);
        $hidden = ['on', ...$free ? ['sixteenths', 'offsetMs'] : ['rateHz', 'ms'], ...$ring ? ['time', 'rateHz', 'sixteenths'] : ['ringHz']];
        if ($insert instanceof FilterSettings && 0.0 === $insert->octaves) {
            array_push($hidden, 'time', 'rateHz', 'sixteenths');
        }

        if ($insert instanceof FilterSettings) {
            $hidden[] = SweptShape::Formant === $insert->shape ? 'cutoffHz' : 'vowel';
        }

        return array_diff_key($insert::parameters(), isset($set['time']) ? array_flip($hidden) : ['on' => 1]);
    }

    /** @return list<Node|Master> lines with inserts that could be copied to this one */
    public function othersWithInserts(string $line): array
    {
        return array_values(array_filter([...array_values($this->mixer->nodes), $this->mixer->master], fn (Node|Master $n): bool => [] !== $n->inserts && $n !== $this->mixer->line($line)));
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
        $words = array_map(fn (InsertSettings $i): string => null === $i->key() ? $i->kind()->label() : 'makes room for '.($this->mixer->nodes[$i->key()]->name ?? 'silence'), array_values($acting));

        return implode(' · ', $words).([] === $sends ? '' : ' → '.implode(', ', $sends));
    }

    /** @param list<string> $names */
    private static function listed(array $names): string
    {
        $shown = \array_slice($names, 0, 3);

        return [] === $names ? 'nothing yet' : implode(', ', $shown).(\count($names) > 3 ? ' and '.(\count($names) - 3).' more' : '');
    }
}
