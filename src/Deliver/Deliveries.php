<?php

namespace Pestle\App\Deliver;

use Doctrine\DBAL\ArrayParameterType;
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

    /** @return bool whether it may begin: not when it was cancelled meanwhile */
    public function begin(Delivery $delivery): bool
    {
        return $this->passes($delivery, [Delivery::WAITING, Delivery::RUNNING], Delivery::RUNNING);
    }

    public function cancel(Delivery $delivery): void
    {
        if ($this->passes($delivery, [Delivery::WAITING, Delivery::RUNNING], Delivery::CANCELLED)) {
            $delivery->message = 'Cancelled.';
            $this->entities->flush();
        }
    }

    /** @return bool whether it was not cancelled while it was proven and packed */
    public function finish(Delivery $delivery): bool
    {
        [$message, $files, $archive, $overDb] = [$delivery->message, $delivery->files, $delivery->archive, $delivery->overDb];
        if (!$this->passes($delivery, [Delivery::RUNNING], Delivery::DONE)) {
            return false;
        }
        [$delivery->message, $delivery->files, $delivery->archive, $delivery->overDb, $delivery->progress] = [$message, $files, $archive, $overDb, 1.0];
        $this->entities->flush();

        return true;
    }

    /**
     * From one state to another in one step, as the page and a worker may want it at the same moment. The delivery is as it is
     * stored afterwards.
     *
     * @param list<string> $from
     */
    private function passes(Delivery $delivery, array $from, string $to): bool
    {
        $count = $this->entities->getConnection()->executeStatement('UPDATE delivery SET state = ? WHERE id = ? AND state IN (?)', [$to, $delivery->id, $from], [2 => ArrayParameterType::STRING]);
        $this->entities->refresh($delivery);

        return 1 === (int) $count;
    }

    public function folder(Delivery $delivery): string
    {
        return $this->folder->deliveries().'/'.$delivery->id;
    }
}
