<?php

namespace Pestle\App\Queue;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Deliver\Deliver;
use Pestle\App\Entity\Delivery;
use Pestle\App\Entity\Sample;
use Pestle\App\Entity\Upload;
use Pestle\App\Gather\Arrive;
use Pestle\App\Gather\FindHits;
use Pestle\App\Gather\FindNotes;
use Pestle\App\Gather\Fix;
use Pestle\App\Gather\Lift;
use Pestle\App\Gather\Listen;
use Pestle\App\Gather\Resample;
use Pestle\App\Gather\WorkOut;
use Pestle\App\Shelf\BringKit;
use Pestle\App\Storage\DataFolder;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\TransportMessageIdStamp;
use Symfony\Component\Messenger\Stamp\TransportNamesStamp;
use Symfony\Component\Messenger\Transport\Serialization\PhpSerializer;

/**
 * Work for the background: handed out so that what is short does not wait behind what is long, found again when it
 * was lost between two stores, and shown where it was given up.
 */
final class Work
{
    public const SHORT = 'short';
    public const LONG = 'long';
    /** Deliveries, which wait for one another and for nothing else. */
    public const DELIVER = 'deliver';
    /** What is longer, five minutes at 48 kHz, takes long. */
    private const LONG_FRAMES = 300 * 48000;
    private const REASON = 'It was begun three times and each time its process ended before it was done, most likely for want of memory.';
    private ?SqliteTransport $queue = null;

    public function __construct(private readonly DataFolder $folder, private readonly MessageBusInterface $bus, private readonly EntityManagerInterface $entities)
    {
    }

    public function hand(object $message, string $lane = self::LONG): void
    {
        $this->bus->dispatch($message, [new TransportNamesStamp([$lane])]);
    }

    /** Lets edits be worked out that take long, unless that is under way already. */
    public function workOut(string $sound): void
    {
        $frames = $this->entities->find(Sample::class, substr($sound, 0, 64))->frames ?? 0;
        $this->handOnce(new WorkOut($sound), $frames > self::LONG_FRAMES ? self::LONG : self::SHORT);
    }

    /** Hands out work unless the same is waiting or under way. */
    public function handOnce(object $message, string $lane = self::LONG): void
    {
        foreach ($this->queue()->waiting() as $envelope) {
            if (self::name($envelope->getMessage()) === self::name($message)) {
                return;
            }
        }
        $this->hand($message, $lane);
    }

    /** Hands out again what is open and has no work in the queue: a process may have ended between storing the one and the other. */
    public function resume(): int
    {
        $there = $kits = $lost = [];
        foreach ($this->queue()->waiting() as $envelope) {
            $message = $envelope->getMessage();
            $there[self::name($message)] = true;
            $kits = [...$kits, ...$message instanceof BringKit ? $message->files : []];
        }
        foreach ($this->entities->getRepository(Upload::class)->findBy(['state' => Upload::LISTENING]) as $upload) {
            // What Pestle makes itself can't be made again from here.
            if ($upload->size > 0) {
                $lost[] = new Arrive($upload->id);
            } elseif (!isset($there['upload '.$upload->id])) {
                $upload->fail('It was lost when Pestle stopped. Make it again.');
            }
        }
        // What was sent for a kit that nobody asked for any more.
        foreach ($this->entities->getRepository(Upload::class)->findBy(['state' => Upload::KEPT]) as $upload) {
            if (!\in_array($upload->id, $kits, true)) {
                $upload->fail('It was lost when Pestle stopped. Bring it in again.');
                @unlink($this->folder->incoming().'/'.$upload->id);
            }
        }
        $this->entities->flush();
        foreach ($this->entities->getRepository(Delivery::class)->findBy(['state' => [Delivery::WAITING, Delivery::RUNNING]]) as $delivery) {
            $lost[] = new Deliver($delivery->id);
        }
        $count = 0;
        foreach ($lost as $message) {
            if (!isset($there[self::name($message)])) {
                $this->hand($message, $message instanceof Deliver ? self::DELIVER : self::LONG);
                ++$count;
            }
        }

        return $count;
    }

    /** @return list<array{id: int, name: string, reason: string}> what was given up */
    public function aside(): array
    {
        $list = [];
        foreach (is_file($this->folder->queue()) ? $this->queue()->aside() : [] as $envelope) {
            $id = $envelope->last(TransportMessageIdStamp::class)?->getId();
            $list[] = ['id' => is_numeric($id) ? (int) $id : 0, 'name' => $this->title($envelope->getMessage()), 'reason' => self::REASON];
        }

        return $list;
    }

    /** Why an upload's or a delivery's work was given up; null when it was not. */
    public function givenUp(Upload|Delivery $for): ?string
    {
        $name = $for instanceof Upload ? 'upload '.$for->id : 'delivery '.$for->id;
        foreach ($this->queue()->aside() as $envelope) {
            if (self::name($envelope->getMessage()) === $name) {
                return self::REASON;
            }
        }

        return null;
    }

    /** Whether the work of a delivery waits, is under way or was put aside. */
    public function has(Delivery $delivery): bool
    {
        foreach ($this->queue()->waiting() as $envelope) {
            if (self::name($envelope->getMessage()) === 'delivery '.$delivery->id) {
                return true;
            }
        }

        return false;
    }

    public function again(int $id): void
    {
        $this->queue()->again($id);
    }

    /** Lets go of it, and of what it was for. */
    public function dismiss(int $id): void
    {
        foreach ($this->queue()->aside() as $envelope) {
            if ((string) $id === (string) (\is_scalar($own = $envelope->last(TransportMessageIdStamp::class)?->getId()) ? $own : '')) {
                $message = $envelope->getMessage();
                $upload = $message instanceof Arrive || $message instanceof Lift || $message instanceof Fix || $message instanceof Resample || $message instanceof BringKit ? $this->entities->find(Upload::class, $message->upload) : null;
                $upload?->fail(self::REASON);
                $delivery = $message instanceof Deliver ? $this->entities->find(Delivery::class, $message->delivery) : null;
                if (null !== $delivery) {
                    $delivery->state = Delivery::FAILED;
                    $delivery->message = self::REASON;
                }
            }
        }
        $this->entities->flush();
        $this->queue()->dismiss($id);
    }

    private static function name(object $message): string
    {
        return match (true) {
            $message instanceof Arrive, $message instanceof Lift, $message instanceof Fix, $message instanceof Resample, $message instanceof BringKit => 'upload '.$message->upload,
            $message instanceof Listen => 'sample '.$message->sample,
            $message instanceof Deliver => 'delivery '.$message->delivery,
            $message instanceof WorkOut => 'edits '.$message->sound,
            $message instanceof FindHits => 'hits '.$message->name(),
            $message instanceof FindNotes => 'notes '.$message->name(),
            default => $message::class,
        };
    }

    private function title(object $message): string
    {
        return match (true) {
            $message instanceof Arrive, $message instanceof Lift, $message instanceof Fix, $message instanceof Resample, $message instanceof BringKit => 'Taking in '.($this->entities->find(Upload::class, $message->upload)->name ?? 'a file'),
            $message instanceof Listen => 'Listening to '.($this->entities->find(Sample::class, $message->sample)->name ?? 'a sample'),
            $message instanceof WorkOut => 'Working out the edits of '.($this->entities->find(Sample::class, substr($message->sound, 0, 64))->name ?? 'a sample'),
            $message instanceof FindNotes => 'Finding the notes of '.($this->entities->find(Sample::class, substr($message->sound, 0, 64))->name ?? 'a sample'),
            $message instanceof FindHits => 'Finding the hits of '.($this->entities->find(Sample::class, substr($message->sound, 0, 64))->name ?? 'a sample'),
            $message instanceof Deliver => 'Delivering '.($this->entities->find(Delivery::class, $message->delivery)->title ?? 'a beat'),
            default => 'Work',
        };
    }

    private function queue(): SqliteTransport
    {
        return $this->queue ??= new SqliteTransport($this->folder->queue(), self::LONG, new PhpSerializer());
    }
}
