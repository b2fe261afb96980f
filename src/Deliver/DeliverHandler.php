<?php

namespace Pestle\App\Deliver;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Delivery;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Delivered;
use Pestle\Core\Exchange\DeliveryNames;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Exchange\StemProof;
use Pestle\Core\Signal\Decibels;
use Psr\Log\LoggerInterface;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Makes the files of a delivery, proves the stems, packs them. Begun again after a crash, it starts afresh. */
#[AsMessageHandler]
final readonly class DeliverHandler
{
    public function __construct(
        private Deliveries $deliveries,
        private Beats $beats,
        private SampleStore $samples,
        private Work $work,
        private EntityManagerInterface $entities,
        private LoggerInterface $logger,
    ) {
    }

    public function __invoke(Deliver $message): void
    {
        $this->entities->clear();
        // As it is stored: whether its work was lost is not this worker's question.
        $delivery = $this->entities->find(Delivery::class, $message->delivery);
        $record = null === $delivery ? null : $this->beats->find($delivery->beatId);
        if (null === $delivery || null === $record || null !== $record->deletedAt || !$this->deliveries->begin($delivery)) {
            return;
        }
        $files = new Filesystem();
        $folder = $this->deliveries->folder($delivery);
        $work = $folder.'.part';
        $files->remove([$work, $folder]);
        try {
            $files->mkdir($work, 0o700);
            $beat = $this->beats->content($record, $delivery->head);
            $order = DeliveryOrder::from(new Fields($delivery->settings));
            $made = (new DeliveryWriter($this->samples->library()))->write(
                $beat,
                $order,
                $work.'/'.DeliveryNames::mix($beat, $delivery->title),
                $work,
                $this->reporter($delivery),
            );
            if (null !== $made) {
                [$delivery->lufs, $delivery->truePeakDb] = $made->loudness;
                $copies = $this->copies($delivery, $beat, $made, $order);
                $delivery->message = self::withCopies(trim($made->level.' '.$this->verdict($made, $order)), $copies);
                $delivery->overDb = max([$made->overDb(), ...array_map(static fn (PackedCopy $copy): int => $copy->overDb, $copies)]);
                $this->pack($delivery, $beat, [...$made->paths, ...array_column($copies, 'path')], $work);
                // The files stand before it is said that they do: whoever is told can take them away.
                $files->rename($work, $folder);
                // Nor is it said before all that there is to say is stored.
                $this->entities->flush();
                if (!$this->deliveries->finish($delivery)) {
                    $files->remove($folder);
                }
            }
        } catch (InvalidChange|UnreadableAudio $e) {
            $delivery->state = Delivery::FAILED;
            $delivery->message = mb_substr($e->getMessage(), 0, 400);
        } catch (\Throwable $e) {
            $this->logger->error('A delivery failed: '.$e->getMessage(), ['exception' => $e]);
            $delivery->state = Delivery::FAILED;
            $delivery->message = DiskTrouble::sentence($e) ?? 'It could not be made. Check that there is space on the disk, then try again.';
        }
        $files->remove($work);
        $this->entities->flush();
    }

    /** @return list<PackedCopy> of all files, or of the mix alone, where it is among them, in formats that lose something */
    private function copies(Delivery $delivery, Beat $beat, Delivered $made, DeliveryOrder $order): array
    {
        $copies = [];
        foreach ($order->also as $number => $as) {
            $paths = $as->isLossy() && $order->mix ? \array_slice($made->paths, 0, 1) : $made->paths;
            foreach ($paths as $i => $path) {
                $copies[] = PackedCopy::of($path, $as, $beat, 0 === $i && $order->mix ? $delivery->title : basename($path, '.wav'));
                $this->work->tell(new Deliver($delivery->id), 0.9 + 0.1 * ($number + ($i + 1) / \count($paths)) / \count($order->also));
            }
        }

        return $copies;
    }

    /** @param list<PackedCopy> $copies */
    private static function withCopies(string $message, array $copies): string
    {
        $over = [];
        foreach ($copies as $copy) {
            $over[$copy->as->label()] = max($copy->overDb, $over[$copy->as->label()] ?? 0);
        }
        $over = array_filter($over);
        $said = [] === $over ? '' : \sprintf('%s up to %d dB over full scale where %s played: lower all by that for it.', implode(' and ', array_keys($over)).(1 === \count($over) ? ' goes' : ' go'), max($over), 1 === \count($over) ? 'it is' : 'they are');

        return mb_substr(trim($message.' '.$said), 0, 400);
    }

    /** @return callable(float): bool stores progress four times a second, and learns whether it was cancelled */
    private function reporter(Delivery $delivery): callable
    {
        $told = 0.0;

        return function (float $progress) use ($delivery, &$told): bool {
            if (microtime(true) - $told > 0.25) {
                $told = microtime(true);
                $this->entities->refresh($delivery);
                if (Delivery::CANCELLED === $delivery->state) {
                    return false;
                }
                if (!$this->deliveries->hasRoom()) {
                    throw new \RuntimeException('The disk is full.');
                }
                $this->work->tell(new Deliver($delivery->id), 0.9 * $progress);
            }

            return true;
        };
    }

    private function verdict(Delivered $made, DeliveryOrder $order): string
    {
        if (StemGrouping::None === $order->grouping || (\count($made->paths) < 2 && $order->mix)) {
            return '';
        }
        if ([] !== $order->leftOut) {
            return $order->mix ? 'Stems were left out as you wished, so those here do not add up to the mix.' : '';
        }
        $sentence = $order->mix && [] !== $made->paths ? StemProof::of($made->paths, $order)->sentence() : 'The mix was left out as you wished, so there is nothing here that the stems could be compared with.';

        return [] === $made->clipped ? $sentence : \sprintf(
            'Alone, %s would go up to %.1f dB above full scale and was cut there, so the stems do not add up to the mix. Lower them all, or deliver 32 bit float.',
            implode(', ', $made->clipped),
            Decibels::fromGain($made->peak),
        );
    }

    /** @param list<string> $paths */
    private function pack(Delivery $delivery, Beat $beat, array $paths, string $work): void
    {
        $name = DeliveryNames::archive($beat, $delivery->title);
        $zip = new \ZipArchive();
        $zip->open($work.'/'.$name, \ZipArchive::CREATE | \ZipArchive::OVERWRITE);
        $list = [];
        foreach ($paths as $path) {
            $zip->addFile($path, basename($path));
            $zip->setCompressionName(basename($path), \ZipArchive::CM_STORE);
            $list[] = ['name' => basename($path), 'bytes' => (int) filesize($path)];
        }
        if (!$zip->close()) {
            throw new \RuntimeException('The archive cannot be written.');
        }
        // What is taken away is the archive: its files need not lie here twice.
        (new Filesystem())->remove($paths);
        $delivery->files = $list;
        $delivery->archive = $name;
    }
}
