<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavNotes;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Gain;

/** The files of one delivery while they are written: the mix where it is wanted, and the stems, each from its first sound on. */
final class DeliveryFiles
{
    private readonly ?DeliveredFile $mix;
    /** @var array<string, DeliveredFile> by the name of the stem */
    private array $stems = [];
    private int $frames = 0;

    /** @var array<string, string> stems that were above full scale and were cut to it */
    public array $clipped = [];
    /** How high the highest of those would have gone. */
    public float $peak = 1.0;

    /** @param array<string, string> $names as StemGrouping::stems() */
    public function __construct(private readonly Beat $beat, private readonly DeliveryOrder $order, string $mixPath, private readonly string $folder, private readonly array $names, private readonly float $gain)
    {
        $this->mix = $order->mix ? new DeliveredFile($mixPath, $order, 1) : null;
    }

    /** @param array<string, StereoBlock> $stems as long as the mix; one that is not among them is silent */
    public function write(StereoBlock $mix, array $stems): void
    {
        $this->mix?->write($mix);
        foreach ($stems as $name => $block) {
            // A stem begins with its first sound; one that stays silent is left out, as is what was not wanted.
            if (\in_array((string) $name, $this->order->leftOut, true) || (!isset($this->stems[$name]) && 0.0 === $block->peak())) {
                continue;
            }
            $this->stems[$name] ??= $this->begun($name);
            $lowered = Gain::sides($block, $this->gain, $this->gain);
            $this->stems[$name]->write($lowered);
            if (!$this->order->format->isFloat() && $lowered->peak() > 1.0) {
                $this->clipped[$name] = (string) $name;
                $this->peak = max($this->peak, $lowered->peak());
            }
        }
        $silence = StereoBlock::silence($mix->frames());
        foreach (array_diff_key($this->stems, $stems) as $file) {
            $file->write($silence);
        }
        $this->frames += $mix->frames();
    }

    /**
     * @param int                              $frames that stay of what was written
     * @param \Closure(string, bool): WavNotes $notes  what a file says of itself, by its title and whether it is the mix
     *
     * @return list<string> where they are, the mix first, the stems in their order
     */
    public function close(int $frames, \Closure $notes): array
    {
        $stems = array_filter(array_map(fn (string $name): ?DeliveredFile => $this->stems[$name] ?? null, array_unique($this->names)));
        $paths = [];
        foreach (array_filter([$this->mix, ...array_values($stems)]) as $file) {
            $file->cut($frames);
            $file->close($notes(basename($file->path, '.wav'), $file === $this->mix));
            $paths[] = $file->path;
        }

        return $paths;
    }

    /** Gives up: nothing stays behind. */
    public function discard(): void
    {
        foreach (array_filter([$this->mix, ...array_values($this->stems)]) as $file) {
            $file->discard();
        }
    }

    /** A stem that is already as long as the mix so far. */
    private function begun(string $name): DeliveredFile
    {
        $number = 1 + (int) array_search($name, array_values(array_unique($this->names)), true);
        $file = new DeliveredFile($this->folder.'/'.DeliveryNames::stem($this->beat, $number, $name), $this->order, 1 + $number);
        for ($at = 0; $at < $this->frames; $at += 65536) {
            $file->write(StereoBlock::silence(min(65536, $this->frames - $at)));
        }

        return $file;
    }
}
