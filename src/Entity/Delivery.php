<?php

namespace Pestle\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

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
    private const MOST_FILES = 10_000;

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

    /**
     * Takes what there is to say of what was made.
     *
     * @throws InvalidChange
     */
    public function made(Fields $said): void
    {
        $this->archive = self::fileName(new Fields(['name' => $said->raw('archive')]));
        $this->files = array_map(static fn (mixed $file): array => [
            'name' => self::fileName($row = new Fields((array) $file)),
            'bytes' => $row->whole('bytes', 0, \PHP_INT_MAX),
        ], $said->items('files', self::MOST_FILES));
        $this->message = $said->has('message') ? $said->text('message', 400) : '';
        $this->overDb = $said->whole('overDb', 0, 1000);
        $this->lufs = $said->number('lufs', -200, 100);
        $this->truePeakDb = $said->number('truePeakDb', -1000, 100);
    }

    private static function fileName(Fields $of): string
    {
        $name = $of->text('name', 255);

        return str_contains($name, '/') ? throw InvalidChange::field('name', 'must be the name of a file.') : $name;
    }

    public function isOpen(): bool
    {
        return self::WAITING === $this->state || self::RUNNING === $this->state;
    }
}
