<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Files that are being made or were made from a beat as it was at one head. */
#[ORM\Entity]
#[ORM\Table(name: 'delivery')]
class Delivery implements Awaited
{
    public const WAITING = 'waiting';
    public const RUNNING = 'running';
    public const DONE = 'done';
    public const FAILED = 'failed';
    public const CANCELLED = 'cancelled';

    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public int $id;

    #[ORM\Column(length: 12)]
    public string $state = self::WAITING;

    #[ORM\Column(length: 400)]
    public string $message = '';

    /** By how many dB all files would have to be lower for no stem to be cut; 0 when none was. */
    #[ORM\Column]
    public int $overDb = 0;

    /** @var list<array{name: string, bytes: int}> */
    #[ORM\Column(type: 'json')]
    public array $files = [];

    /** Name of the finished archive. */
    #[ORM\Column(length: 200, nullable: true)]
    public ?string $archive = null;

    /** Integrated loudness of the mix, as it was measured while it was written. */
    #[ORM\Column(nullable: true)]
    public ?float $lufs = null;

    #[ORM\Column(nullable: true)]
    public ?float $truePeakDb = null;

    #[ORM\Column]
    public \DateTimeImmutable $startedAt;

    /** @param array<string, string|bool|int> $settings */
    public function __construct(
        #[ORM\Column]
        public readonly int $beatId,
        #[ORM\Column]
        public readonly int $head,
        #[ORM\Column(type: 'json')]
        public readonly array $settings,
        #[ORM\Column(length: 120)]
        public readonly string $title,
    ) {
        $this->startedAt = new \DateTimeImmutable();
    }

    public function called(): string
    {
        return $this->title;
    }

    public function giveUp(string $why, bool $asWished): void
    {
        if ($this->isOpen()) {
            $this->state = $asWished ? self::CANCELLED : self::FAILED;
            $this->message = $why;
        }
    }

    public function isOpen(): bool
    {
        return self::WAITING === $this->state || self::RUNNING === $this->state;
    }
}
