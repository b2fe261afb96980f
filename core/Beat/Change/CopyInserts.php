<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\ReadyChain;

/** Puts inserts behind those a line has: one or all of another line, set as they are there, or a chain to start from. */
final readonly class CopyInserts implements Change
{
    private function __construct(private string $node, private ?string $from, private ?string $insert, private ?ReadyChain $chain)
    {
    }

    public static function from(Fields $fields): self
    {
        $chain = $fields->has('chain') ? $fields->choice('chain', ReadyChain::class) : null;

        return new self($fields->id('node'), null === $chain ? $fields->id('from') : null, $fields->has('insert') ? $fields->id('insert') : null, $chain);
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);
        foreach ($this->inserts($beat) as $insert) {
            $line = $line->followedBy($insert->steeredBy($insert->key() === $this->node ? null : $insert->key()));
        }

        return $beat->withMixer($beat->mixer->withLine($line));
    }

    public function label(Beat $beat): string
    {
        return match (true) {
            null !== $this->chain => $this->chain->label().' on '.$beat->nameOf($this->node),
            null !== $this->insert => $beat->line((string) $this->from)->insert($this->insert)->kind()->label().' of '.$beat->nameOf((string) $this->from).' on '.$beat->nameOf($this->node),
            default => 'Inserts of '.$beat->nameOf((string) $this->from).' on '.$beat->nameOf($this->node),
        };
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }

    /** @return list<InsertSettings> */
    private function inserts(Beat $beat): array
    {
        if (null !== $this->chain) {
            return $this->chain->inserts();
        }
        $from = $beat->line((string) $this->from);

        return null === $this->insert ? $from->inserts : [$from->insert($this->insert)];
    }
}
