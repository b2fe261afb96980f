<?php

namespace Pestle\App\Page;

use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\Send;

/** A line of the mixer as its page shows it. */
final readonly class MixLine
{
    /**
     * @param string                                            $kind   "channel", "group", "return" or "master"
     * @param string                                            $from   what feeds it, in words
     * @param string                                            $way    what happens to the sound, in words; empty for nothing
     * @param string|null                                       $goesTo name of its group
     * @param list<array{id: string, name: string, send: Send}> $sends
     */
    public function __construct(public string $id, public string $name, public string $kind, public Node|Master $node, public ?Role $role, public string $from, public string $way, public ?string $goesTo, public array $sends)
    {
    }
}
