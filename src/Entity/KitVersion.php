<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What a kit on the shelf held when it was saved, as JSON of a KitSheet. */
#[ORM\Entity(readOnly: true)]
#[ORM\Table(name: 'kit_version')]
class KitVersion
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public int $id;

    public function __construct(
        #[ORM\Column]
        public readonly int $kitId,
        #[ORM\Column]
        public readonly int $number,
        #[ORM\Column(length: 24)]
        public readonly string $print,
        #[ORM\Column(type: 'text')]
        public readonly string $body,
        #[ORM\Column]
        public readonly \DateTimeImmutable $savedAt = new \DateTimeImmutable(),
    ) {
    }
}
