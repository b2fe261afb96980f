<?php

namespace Pestle\App\Deliver;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Delivery;
use Pestle\App\Queue\JobState;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Section;

/** Deliveries that were ordered, and where their files are. */
final readonly class Deliveries
{
    /** As many as a beat of many sections may bring at once. */
    private const SHOWN = 100;
    /** What is left free beside what is written. */
    private const SPARE_BYTES = 100_000_000;

    public function __construct(private EntityManagerInterface $entities, private DataFolder $folder, private Beats $beats, private Work $work)
    {
    }

    /**
     * @param array<string, string|bool|int> $settings as the form sends them; "sections" or "patterns" order each of them by itself
     *
     * @return non-empty-list<Delivery>
     *
     * @throws InvalidChange
     */
    public function order(BeatRecord $record, array $settings): array
    {
        $beat = $this->beats->content($record);
        $each = match ($settings['what'] ?? '') {
            'sections' => array_keys(array_filter($beat->sections, static fn (Section $s): bool => $s->lengthTicks($beat->patterns) > 0)),
            'patterns' => array_keys(array_filter($beat->patterns, static fn (Pattern $p): bool => !$p->isEmpty())),
            default => null,
        };
        if ([] === $each) {
            throw InvalidChange::field('what', \sprintf('asks for all %s, and all are empty.', $settings['what']));
        }
        $all = null === $each ? [$settings] : array_map(static fn (int|string $id): array => ['what' => (string) $id] + $settings, $each);
        $this->refuseTooLarge((int) array_sum(array_map(static fn (array $one): int => DeliveryOrder::from(new Fields($one))->mostBytes($beat), $all)));

        return array_map(fn (array $one): Delivery => $this->hand($record, $record->head, $beat, $one), $all);
    }

    /**
     * What was delivered once more, as it was then.
     *
     * @throws InvalidChange
     */
    public function again(Delivery $delivery, BeatRecord $record): Delivery
    {
        try {
            $beat = $this->beats->content($record, $delivery->head);
        } catch (\OutOfBoundsException) {
            throw new InvalidChange('The version of the beat it was made from was cleared from the disk. Deliver it as it is today.');
        }
        $this->refuseTooLarge(DeliveryOrder::from(new Fields($delivery->settings))->mostBytes($beat));

        return $this->hand($record, $delivery->head, $beat, $delivery->settings);
    }

    /** @param array<string, string|bool|int> $settings */
    private function hand(BeatRecord $record, int $head, Beat $beat, array $settings): Delivery
    {
        $order = DeliveryOrder::from(new Fields($settings));
        // What it lacks is told now, and not by a worker later.
        $order->window($beat);
        $delivery = new Delivery($record->id, $head, $settings, mb_substr($order->title($beat), 0, 120));
        $this->entities->persist($delivery);
        $this->entities->flush();
        $this->work->hand(new Deliver($delivery->id), Work::DELIVER);

        return $delivery;
    }

    /** @throws InvalidChange where files that large, and their archive beside them, find no place */
    private function refuseTooLarge(int $bytes): void
    {
        $free = $this->free();
        if (2 * $bytes + self::SPARE_BYTES > $free) {
            throw new InvalidChange(\sprintf('This takes up to %.1f GB, and as much again while it is packed; %.1f GB are free. Clear something under "Space on the disk", or leave stems out.', $bytes / 1e9, $free / 1e9));
        }
    }

    /** Bytes that are free for deliveries. */
    public function free(): int
    {
        return (int) @disk_free_space($this->folder->deliveries());
    }

    /** Whether there is still room to write on. */
    public function hasRoom(): bool
    {
        return $this->free() > self::SPARE_BYTES;
    }

    public function find(int $id): ?Delivery
    {
        $delivery = $this->entities->find(Delivery::class, $id);

        return null === $delivery ? null : $this->lookedAfter($delivery);
    }

    /** @return list<Delivery> newest first */
    public function of(BeatRecord $record): array
    {
        return array_map($this->lookedAfter(...), $this->entities->getRepository(Delivery::class)->findBy(['beatId' => $record->id], ['id' => 'DESC'], self::SHOWN));
    }

    /** The newest other one of the same music that says how loud it came out. */
    public function beside(Delivery $delivery): ?Delivery
    {
        $music = static fn (Delivery $d): array => array_intersect_key($d->settings, array_flip(['what', 'fromBar', 'toBar', 'loop', 'level', 'lufs', 'peak', 'lowerDb']));
        foreach ($this->entities->getRepository(Delivery::class)->findBy(['beatId' => $delivery->beatId, 'state' => Delivery::DONE], ['id' => 'DESC'], 50) as $other) {
            if ($other->id !== $delivery->id && null !== $other->lufs && $music($other) == $music($delivery)) {
                return $other;
            }
        }

        return null;
    }

    /** 0 to 1 */
    public function progress(Delivery $delivery): float
    {
        return Delivery::DONE === $delivery->state ? 1.0 : $this->work->find(new Deliver($delivery->id))->progress ?? 0.0;
    }

    /** One whose work could not even say that it failed is open no longer. */
    private function lookedAfter(Delivery $delivery): Delivery
    {
        if (!$delivery->isOpen()) {
            return $delivery;
        }
        $job = $this->work->find(new Deliver($delivery->id));
        if (null !== $job) {
            // It can be tried again, or cancelled; till then the page says why it stands still.
            $delivery->message = JobState::Aside === $job->state ? Work::GIVEN_UP : $delivery->message;
        } elseif ($this->passes($delivery, [Delivery::WAITING, Delivery::RUNNING], Delivery::FAILED)) {
            $delivery->message = 'Its work ended without a result: the disk may have been full. Clear something under "Space on the disk", then deliver again.';
            $this->entities->flush();
        }

        return $delivery;
    }

    /** With its beat go the deliveries that are not done; ordered again they come, should it be restored. */
    public function cancelAll(BeatRecord $record): void
    {
        foreach ($this->entities->getRepository(Delivery::class)->findBy(['beatId' => $record->id, 'state' => [Delivery::WAITING, Delivery::RUNNING]]) as $delivery) {
            $this->cancel($delivery, 'Cancelled, as its beat was deleted.');
        }
    }

    /** @return bool whether it may begin: not when it was cancelled meanwhile */
    public function begin(Delivery $delivery): bool
    {
        return $this->passes($delivery, [Delivery::WAITING, Delivery::RUNNING], Delivery::RUNNING);
    }

    public function cancel(Delivery $delivery, string $why = 'Cancelled.'): void
    {
        if ($this->passes($delivery, [Delivery::WAITING, Delivery::RUNNING], Delivery::CANCELLED)) {
            $delivery->message = $why;
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
        [$delivery->message, $delivery->files, $delivery->archive, $delivery->overDb] = [$message, $files, $archive, $overDb];
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
