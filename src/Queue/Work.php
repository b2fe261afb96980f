<?php

namespace Pestle\App\Queue;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Carry\BringBeats;
use Pestle\App\Deliver\Deliver;
use Pestle\App\Entity\Awaited;
use Pestle\App\Entity\Delivery;
use Pestle\App\Entity\Sample;
use Pestle\App\Entity\Upload;
use Pestle\App\Gather\Arrive;
use Pestle\App\Gather\WorkOut;
use Pestle\App\Machines\MachineSettings;
use Pestle\App\Shelf\BringKit;
use Pestle\App\Storage\DataFolder;
use Pestle\App\Task\Portable;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\TransportNamesStamp;
use Symfony\Component\Messenger\Transport\Serialization\PhpSerializer;

/**
 * Jobs for the background: handed out so that what is short does not wait behind what is long, listed, called off, found
 * again when one was lost between two stores, and shown where one was given up.
 */
final readonly class Work
{
    public const SHORT = 'short';
    public const LONG = 'long';
    /** Deliveries, which wait for one another and for nothing else. */
    public const DELIVER = 'deliver';
    /** What is longer, five minutes at 48 kHz, takes long. */
    private const LONG_FRAMES = 300 * 48000;
    public const GIVEN_UP = 'It was begun three times and each time its process ended before it was done, most likely for want of memory.';

    public function __construct(private DataFolder $folder, private JobTable $jobs, private MessageBusInterface $bus, private EntityManagerInterface $entities, private MachineSettings $machines)
    {
    }

    /** Hands out a job, unless the same is waiting, under way or put aside. */
    public function hand(Job $job, string $lane = self::LONG): void
    {
        $title = \sprintf($job->title(), $this->awaited($job)?->called() ?? 'what is gone');
        $this->bus->dispatch($job, [new TransportNamesStamp([$lane]), new Titled($title), ...$job instanceof Portable && $this->machines->areMany() ? [new Elsewhere()] : []]);
    }

    /** Lets edits be worked out that take long, unless that is under way already. */
    public function workOut(string $sound): void
    {
        $frames = $this->entities->find(Sample::class, substr($sound, 0, 64))->frames ?? 0;
        $this->hand(new WorkOut($sound), $frames > self::LONG_FRAMES ? self::LONG : self::SHORT);
    }

    /** Hands out again what is open and has no job: a process may have ended between storing the one and the other. */
    public function resume(): int
    {
        $count = 0;
        $this->machines->areMany() || $this->jobs->bringHome();
        foreach ($this->entities->getRepository(Upload::class)->findBy(['state' => Upload::LISTENING]) as $upload) {
            $job = 1 === preg_match('/\.zip$/i', $upload->name) ? new BringBeats($upload->id) : new Arrive($upload->id);
            if (null !== $this->find($job)) {
                continue;
            }
            if ($upload->size > 0) {
                $this->hand($job);
                ++$count;
            } else {
                // What Pestle makes itself can't be made again from here.
                $upload->fail('It was lost when Pestle stopped. Make it again.');
            }
        }
        $kits = array_merge(...array_map(static fn (string $body): array => ($job = self::decoded($body)) instanceof BringKit ? $job->files : [], $this->jobs->bodies('upload ')));
        // What was sent for a kit that nobody asked for any more.
        foreach ($this->entities->getRepository(Upload::class)->findBy(['state' => Upload::KEPT]) as $upload) {
            if (!\in_array($upload->id, $kits, true)) {
                $upload->fail('It was lost when Pestle stopped. Bring it in again.');
                @unlink($this->folder->incoming().'/'.$upload->id);
            }
        }
        $this->entities->flush();
        foreach ($this->entities->getRepository(Delivery::class)->findBy(['state' => [Delivery::WAITING, Delivery::RUNNING]]) as $delivery) {
            $job = new Deliver($delivery->id);
            if (null === $this->find($job)) {
                $this->hand($job, self::DELIVER);
                ++$count;
            }
        }

        return $count;
    }

    /** @return list<JobRow> what was given up, what is under way, what waits */
    public function all(): array
    {
        return $this->jobs->all();
    }

    /** @return array<int, array{string, Portable}> lane and job of all that other machines do, by id */
    public function elsewhere(): array
    {
        $jobs = [];
        foreach ($this->jobs->elsewhere() as $id => [$lane, $body]) {
            $job = self::decoded($body);
            if ($job instanceof Portable) {
                $jobs[$id] = [$lane, $job];
            }
        }

        return $jobs;
    }

    /** The job as it is listed; null when there is none. */
    public function find(Job $job): ?JobRow
    {
        return $this->jobs->find($job->key());
    }

    public function tell(Job $job, float $progress): void
    {
        $this->jobs->tell($job->key(), $progress);
    }

    public function again(int $id): void
    {
        $this->jobs->again($id);
    }

    /** Lets go of a job and of what it was for: called off, or dismissed where it was given up. */
    public function letGo(int $id): void
    {
        $job = self::decoded($this->jobs->body($id));
        if (null === $job) {
            return;
        }
        $aside = JobState::Aside === $this->find($job)?->state;
        $this->jobs->stop($id);
        $this->awaited($job)?->giveUp($aside ? self::GIVEN_UP : 'Cancelled.', !$aside);
        $this->entities->flush();
        if ($job instanceof UploadJob) {
            $this->clear($job);
        }
        (new Filesystem())->remove($this->folder->scratch($job->key()));
    }

    /** What was sent goes with its job, and what the job had unpacked. */
    private function clear(UploadJob $job): void
    {
        foreach ($job instanceof BringKit ? $job->files : [] as $id) {
            $this->entities->find(Upload::class, $id)?->fail('Cancelled.');
            @unlink($this->folder->incoming().'/'.$id);
        }
        $this->entities->flush();
        (new Filesystem())->remove([$this->folder->incoming().'/'.$job->upload, $this->folder->incoming().'/kit-'.$job->upload]);
    }

    private function awaited(Job $job): ?Awaited
    {
        $about = $job->about();

        return null === $about ? null : $this->entities->find(...$about);
    }

    private static function decoded(?string $body): ?Job
    {
        $message = null === $body ? null : (new PhpSerializer())->decode(['body' => $body])->getMessage();

        return $message instanceof Job ? $message : null;
    }
}
