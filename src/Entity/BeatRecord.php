<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Pestle\Core\Beat\Beat;

/** A beat in the list. Its content is in its revisions; name, tempo and key stand here too, so that the list needn't read them. */
#[ORM\Entity]
#[ORM\Table(name: 'beat')]
class BeatRecord implements Awaited
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public int $id;

    #[ORM\Column(length: 80)]
    public string $name = '';

    /** Number of the newest revision; it only grows. */
    #[ORM\Column]
    public int $head = 0;

    #[ORM\Column]
    public float $tempo = 0.0;

    #[ORM\Column(name: 'key_name', length: 20, nullable: true)]
    public ?string $key = null;

    #[ORM\Column]
    public \DateTimeImmutable $createdAt;

    #[ORM\Column]
    public \DateTimeImmutable $changedAt;

    #[ORM\Column(nullable: true)]
    public ?\DateTimeImmutable $deletedAt = null;

    #[ORM\Column]
    public bool $demo = false;

    public function __construct()
    {
        $this->createdAt = $this->changedAt = new \DateTimeImmutable();
    }

    public function describe(Beat $beat, int $head): void
    {
        $this->name = $beat->name;
        $this->tempo = $beat->tempo->bpm;
        $this->key = $beat->key?->name();
        $this->head = $head;
        $this->changedAt = new \DateTimeImmutable();
    }

    public function called(): string
    {
        return $this->name;
    }

    public function giveUp(string $why, bool $asWished): void
    {
        // It is as it was, and can be packed again.
    }
}
