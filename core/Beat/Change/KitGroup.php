<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;

/**
 * Brings the channels of all pads of a kit into a group of its own, so that what is inserted there acts on the whole kit.
 * Where they all went into one group before, the new one goes into that.
 */
final readonly class KitGroup implements Change
{
    private function __construct(private string $part)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('part'));
    }

    /** The group that holds all channels of a kit and none besides; null when there is none. */
    public static function of(Beat $beat, string $part): ?Node
    {
        $own = self::channels($beat, $part);
        $outputs = array_values(array_unique(array_map(static fn (string $id): string => $beat->mixer->nodes[$id]->output ?? '', $own)));
        if (1 !== \count($outputs) || '' === $outputs[0]) {
            return null;
        }
        $members = array_keys(array_filter($beat->mixer->nodes, static fn (Node $n): bool => $n->output === $outputs[0]));

        return [] === array_diff(array_map(strval(...), $members), $own) ? $beat->mixer->nodes[$outputs[0]] : null;
    }

    /** @return list<string> channels that only pads of the kit feed */
    private static function channels(Beat $beat, string $part): array
    {
        $own = array_filter($beat->kit->pads, static fn (Pad $p): bool => $beat->kit->partOf($p->id) === $part);
        $others = array_diff_key($beat->kit->pads, $own);

        return array_values(array_diff(array_unique(array_values(array_map(static fn (Pad $p): string => $p->channel, $own))), array_values(array_map(static fn (Pad $p): string => $p->channel, $others))));
    }

    public function apply(Beat $beat): Beat
    {
        $channels = self::channels($beat, $this->part);
        if ([] === $channels) {
            throw new InvalidChange(\sprintf('%s has no pad with a sound.', $beat->part($this->part)->name));
        }
        $outputs = array_unique(array_map(static fn (string $id): ?string => $beat->mixer->nodes[$id]->output ?? null, $channels));
        $group = Node::group($beat->mixer->nextId(NodeKind::Group), $beat->part($this->part)->name)->with(['output' => 1 === \count($outputs) ? array_values($outputs)[0] : null]);
        $mixer = $beat->mixer->with($group);
        foreach ($channels as $id) {
            $mixer = $mixer->with($mixer->nodes[$id]->with(['output' => $group->id]));
        }

        return $beat->withMixer($mixer);
    }

    public function label(Beat $beat): string
    {
        return 'A group for all of '.$beat->part($this->part)->name;
    }

    public function touches(): array
    {
        return ['mixer', 'kit'];
    }
}
