<?php

namespace Pestle\App\Deliver;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Delivery;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Exchange\DeliveryOrder;

/** Deliveries that were ordered, and where their files are. */
final readonly class Deliveries
{
    public function __construct(private EntityManagerInterface $entities, private DataFolder $folder, private Beats $beats, private Work $work)
    {
    }

    /** @param array<string, string|bool|int> $settings as the form sends them */
    public function order(BeatRecord $record, array $settings): Delivery
    {
        $beat = $this->beats->content($record);
        $order = DeliveryOrder::from(new Fields($settings));
        $delivery = new Delivery($record->id, $record->head, $settings, mb_substr($order->title($beat), 0, 120));
        $this->entities->persist($delivery);
        $this->entities->flush();
        $this->work->hand(new Deliver($delivery->id));

        return $delivery;
    }

    public function find(int $id): ?Delivery
    {
        return $this->entities->find(Delivery::class, $id);
    }

    /** @return list<Delivery> newest first */
    public function of(BeatRecord $record): array
    {
        return $this->entities->getRepository(Delivery::class)->findBy(['beatId' => $record->id], ['id' => 'DESC'], 12);
    }

    public function cancel(Delivery $delivery): void
    {
        if ($delivery->isOpen()) {
            $delivery->state = Delivery::CANCELLED;
            $delivery->message = 'Cancelled.';
            $this->entities->flush();
        }
    }

    /** @return bool whether it was not cancelled while it was proven and packed */
    public function finish(Delivery $delivery): bool
    {
        return $this->entities->wrapInTransaction(function () use ($delivery): bool {
            $state = $this->entities->getConnection()->fetchOne('SELECT state FROM delivery WHERE id = ?', [$delivery->id]);
            $finished = Delivery::CANCELLED !== $state;
            $delivery->state = $finished ? Delivery::DONE : Delivery::CANCELLED;
            $delivery->progress = $finished ? 1.0 : $delivery->progress;
            $delivery->message = $finished ? $delivery->message : 'Cancelled.';

            return $finished;
        });
    }

    public function folder(Delivery $delivery): string
    {
        return $this->folder->deliveries().'/'.$delivery->id;
    }
}
