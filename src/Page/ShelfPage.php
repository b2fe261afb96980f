<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\KitVersion;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Shelf\KitShelf;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Kit\Role;
use Pestle\Core\Song\Part;

/** The shelf beside a beat: where the kit of a part came from, whether it was changed since, and what else there is. */
final readonly class ShelfPage
{
    /** @var list<array{kit: ShelvedKit, version: KitVersion, sheet: KitSheet}> */
    public array $kits;
    public ?ShelvedKit $origin;
    public int $version;
    public bool $changed;

    public function __construct(KitShelf $shelf, BeatPage $page, public Part $part)
    {
        $this->kits = $shelf->all();
        [$kit, $version, $print] = [...explode('/', $part->shelf ?? ''), '', '', ''];
        $this->origin = '' === $kit ? null : $shelf->find((int) $kit);
        $this->version = (int) $version;
        $this->changed = null !== $this->origin && KitSheet::of($page->beat, $part->id)->print() !== $print;
    }

    /** The number a further version of its origin would have. */
    public function next(): int
    {
        foreach ($this->kits as ['kit' => $kit, 'version' => $version]) {
            if ($kit->id === $this->origin?->id) {
                return $version->number + 1;
            }
        }

        return 1;
    }

    /** @return list<array{x: int, y: int, role: Role, colour: string|null}> its first sixteen pads as they lie under the hands */
    public function picture(KitSheet $sheet): array
    {
        $cells = [];
        foreach ($sheet->pads as $id => $pad) {
            if (preg_match('/^a(\d+)$/', (string) $id, $m)) {
                $cells[] = ['x' => (int) $m[1] % 8, 'y' => intdiv((int) $m[1], 8), 'role' => $pad->role, 'colour' => $pad->colour];
            }
        }

        return $cells;
    }
}
