<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Hit;

/**
 * A silent lane made just to steer an insert: a pad with the kick's sound on a muted channel of its own, struck on every
 * beat of every pattern of its kit, to be moved as wished.
 */
final readonly class SteerByPattern implements Change
{
    private function __construct(private string $node, private string $insert)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'), $fields->id('insert'));
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);
        $insert = $line->insert($this->insert);
        $part = $beat->firstKit()->id;
        $own = array_filter($beat->kit->pads, static fn (Pad $pad): bool => $beat->kit->partOf($pad->id) === $part);
        $kicks = array_filter($own, static fn (Pad $pad): bool => Role::Kick === $pad->role);
        $like = array_values([...$kicks, ...$own])[0] ?? throw new InvalidChange('The kit has no sound yet: give a pad one first.');
        $channel = new Node($beat->mixer->nextId(NodeKind::Channel), 'Steers '.$beat->nameOf($this->node), mute: true);
        $place = $this->free($beat, $part);
        $beat = $beat->withMixer($beat->mixer->with($channel))->withKit($beat->kit->withPad($like->with(['id' => $place, 'name' => $channel->name, 'channel' => $channel->id, 'choke' => 0, 'levelDb' => 0.0])));
        foreach ($beat->patterns as $pattern) {
            if ($pattern->part === $part && $pattern->ticks > 0) {
                $hits = array_map(static fn (int $tick): Hit => new Hit($tick, $place, 127), range(0, $pattern->ticks - 1, $beat->meter->beatTicks()));
                $beat = $beat->withPattern($pattern->withHits([...$pattern->hits, ...$hits]));
            }
        }

        return $beat->withMixer($beat->mixer->withLine($beat->line($this->node)->withInsert($insert->steeredBy($channel->id))));
    }

    private function free(Beat $beat, string $part): string
    {
        foreach ($beat->kit->banksOf($part) as $bank) {
            foreach ($bank->padIds() as $id) {
                if (null === $beat->kit->pad($id)) {
                    return $id;
                }
            }
        }

        throw new InvalidChange('No pad of the kit is free: clear one, or add a bank.');
    }

    public function label(Beat $beat): string
    {
        return 'A silent pattern steers '.$beat->nameOf($this->node);
    }

    public function touches(): array
    {
        return ['mixer', 'kit', 'pattern'];
    }
}
