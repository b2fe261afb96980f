<?php

namespace Pestle\App\Deliver;

use Pestle\App\Task\Bench;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Exchange\Delivered;
use Pestle\Core\Exchange\DeliveryNames;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Exchange\StemProof;
use Pestle\Core\Signal\Decibels;
use Symfony\Component\Filesystem\Filesystem;

/** Makes the files of a delivery, proves the stems, packs them. */
final readonly class MakeDelivery
{
    /** How much of the work it is to write it, where copies are made then. */
    private const WRITING = 0.9;

    public function __construct(private Beat $beat, private DeliveryOrder $order, private string $title)
    {
    }

    /**
     * Leaves the archive alone in the bench's folder.
     *
     * @return array{archive: string, files: list<array{name: string, bytes: int}>, message: string, overDb: int, lufs: float, truePeakDb: float}|null null when it was not wanted any more
     */
    public function write(Bench $bench): ?array
    {
        $made = (new DeliveryWriter($bench->samples))->write(
            $this->beat,
            $this->order,
            $bench->folder.'/'.DeliveryNames::mix($this->beat, $this->title),
            $bench->folder,
            static fn (float $progress): bool => $bench->tell(self::WRITING * $progress),
        );
        $copies = null === $made ? null : $this->copies($made, $bench);
        if (null === $made || null === $copies) {
            return null;
        }

        // Before its files are in the archive alone.
        $verdict = $this->verdict($made);

        return [
            'archive' => DeliveryNames::archive($this->beat, $this->title),
            'files' => $this->pack([...$made->paths, ...array_column($copies, 'path')], $bench->folder),
            'message' => self::withCopies(trim($made->level.' '.$verdict), $copies),
            'overDb' => max([$made->overDb(), ...array_map(static fn (PackedCopy $copy): int => $copy->overDb, $copies)]),
            'lufs' => $made->loudness[0],
            'truePeakDb' => $made->loudness[1],
        ];
    }

    /** @return list<PackedCopy>|null of all files, or of the mix alone, where it is among them, in formats that lose something */
    private function copies(Delivered $made, Bench $bench): ?array
    {
        $copies = [];
        foreach ($this->order->also as $number => $as) {
            $paths = $as->isLossy() && $this->order->mix ? \array_slice($made->paths, 0, 1) : $made->paths;
            foreach ($paths as $i => $path) {
                $copies[] = PackedCopy::of($path, $as, $this->beat, 0 === $i && $this->order->mix ? $this->title : basename($path, '.wav'));
                if (!$bench->tell(self::WRITING + (1.0 - self::WRITING) * ($number + ($i + 1) / \count($paths)) / \count($this->order->also))) {
                    return null;
                }
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

    private function verdict(Delivered $made): string
    {
        $order = $this->order;
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

    /**
     * @param list<string> $paths
     *
     * @return list<array{name: string, bytes: int}> what is in the archive
     */
    private function pack(array $paths, string $folder): array
    {
        $zip = new \ZipArchive();
        $zip->open($folder.'/'.DeliveryNames::archive($this->beat, $this->title), \ZipArchive::CREATE | \ZipArchive::OVERWRITE);
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

        return $list;
    }
}
