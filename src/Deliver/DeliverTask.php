<?php

namespace Pestle\App\Deliver;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Delivery;
use Pestle\App\Queue\Job;
use Pestle\App\Storage\Beats;
use Pestle\App\Task\Bench;
use Pestle\App\Task\Load;
use Pestle\App\Task\Outcome;
use Pestle\App\Task\Task;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Exchange\DeliveryOrder;
use Symfony\Component\Filesystem\Filesystem;

/**
 * Makes a delivery. Begun again after a crash, it starts afresh.
 *
 * @implements Task<Deliver>
 */
final readonly class DeliverTask implements Task
{
    public function __construct(private Deliveries $deliveries, private Beats $beats, private EntityManagerInterface $entities)
    {
    }

    public static function name(): string
    {
        return 'deliver';
    }

    public function pack(Job $job): ?Load
    {
        $delivery = $this->stored($job);
        $record = null === $delivery ? null : $this->beats->find($delivery->beatId);
        if (null === $delivery || null === $record || null !== $record->deletedAt || !$delivery->isOpen()) {
            return null;
        }
        $json = $this->beats->json($record, $delivery->head);

        return new Load(['beat' => $json, 'settings' => $delivery->settings, 'title' => $delivery->title], Beats::samplesIn($json));
    }

    public function goesOn(Job $job): bool
    {
        $delivery = $this->stored($job);

        return null !== $delivery && $this->deliveries->begin($delivery);
    }

    public function work(array $what, Bench $bench): ?array
    {
        $fields = new Fields($what);
        $beat = BeatCodec::decode(\is_string($what['beat'] ?? null) ? $what['beat'] : '');

        return (new MakeDelivery($beat, DeliveryOrder::from($fields->nested('settings')), $fields->text('title', 120)))->write($bench);
    }

    public function settle(Job $job, Outcome $outcome): void
    {
        $delivery = $this->stored($job);
        if (null === $delivery || !$this->deliveries->begin($delivery)) {
            return;
        }
        if (null !== $outcome->trouble) {
            $delivery->state = Delivery::FAILED;
            $delivery->message = $outcome->trouble;
            $this->entities->flush();

            return;
        }
        $delivery->made(new Fields($outcome->said));
        $files = new Filesystem();
        $folder = $this->deliveries->folder($delivery);
        $files->remove($folder);
        // The files stand before it is said that they do: whoever is told can take them away.
        $files->rename($outcome->folder, $folder);
        // Nor is it said before all that there is to say is stored.
        $this->entities->flush();
        if (!$this->deliveries->finish($delivery)) {
            $files->remove($folder);
        }
    }

    /** As it is stored: whether its work was lost is not this worker's question. */
    private function stored(Deliver $job): ?Delivery
    {
        return $this->entities->find(Delivery::class, $job->delivery);
    }
}
