<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A groove on the shelf, for any beat. */
#[ORM\Entity]
#[ORM\Table(name: 'groove')]
class ShelvedGroove
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public int $id;

    /** @param list<array{float, float}|null> $slots as the core's Groove has them */
    public function __construct(
        #[ORM\Column(length: 80)]
        public string $name,
        #[ORM\Column]
        public readonly int $grid,
        #[ORM\Column(type: 'json')]
        public readonly array $slots,
    ) {
    }
}
