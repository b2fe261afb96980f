<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A file on its way in. */
#[ORM\Entity]
#[ORM\Table(name: 'upload')]
class Upload implements Awaited
{
    public const RECEIVING = 'receiving';
    public const LISTENING = 'listening';
    /** Complete, and kept for what it was sent for. */
    public const KEPT = 'kept';
    public const DONE = 'done';
    public const FAILED = 'failed';

    #[ORM\Column]
    public int $received = 0;

    #[ORM\Column(length: 12)]
    public string $state = self::RECEIVING;

    #[ORM\Column(length: 400)]
    public string $message = '';

    /** Hash of the sample it became. */
    #[ORM\Column(length: 64, nullable: true)]
    public ?string $sample = null;

    /** @param list<string>|null $tags of one of many files that come together: it is listened to afterwards, so that all are there soon */
    public function __construct(
        #[ORM\Id]
        #[ORM\Column(length: 32)]
        public readonly string $id,
        #[ORM\Column(length: 120)]
        public readonly string $name,
        #[ORM\Column]
        public readonly int $size,
        #[ORM\Column(type: 'json', nullable: true)]
        public readonly ?array $tags = null,
        #[ORM\Column]
        public readonly \DateTimeImmutable $startedAt = new \DateTimeImmutable(),
    ) {
    }

    public function called(): string
    {
        return $this->name;
    }

    public function giveUp(string $why, bool $asWished): void
    {
        if (self::LISTENING === $this->state) {
            $this->fail($why);
        }
    }

    public function fail(string $message): void
    {
        $this->state = self::FAILED;
        $this->message = mb_substr($message, 0, 400);
    }
}
