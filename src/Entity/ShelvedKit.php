<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A kit or an instrument on the shelf; what it holds lies in its versions. */
#[ORM\Entity]
#[ORM\Table(name: 'kit')]
class ShelvedKit implements Awaited
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public int $id;

    /** @var list<string> */
    #[ORM\Column(type: 'json')]
    public array $tags = [];

    #[ORM\Column(length: 400)]
    public string $note = '';

    #[ORM\Column(nullable: true)]
    public ?\DateTimeImmutable $deletedAt = null;

    public function __construct(
        #[ORM\Column(length: 80)]
        public string $name,
        #[ORM\Column]
        public readonly bool $demo = false,
    ) {
    }

    public function called(): string
    {
        return $this->name;
    }

    public function giveUp(string $why, bool $asWished): void
    {
        // It stays on the shelf, and can be packed again.
    }
}
