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
    private const AT_ONCE = 20;

    /** @var list<array{kit: ShelvedKit, version: KitVersion, sheet: KitSheet|null}> those that are shown; without a sheet what cannot be read */
    public array $kits;
    /** How many are found. */
    public int $count;
    public string $words;
    /** How many are shown. */
    private int $most;
    /** The number a further version of its origin would have. */
    public int $next;
    public ?ShelvedKit $origin;
    public int $version;
    public bool $changed;

    /** @param bool $instruments whether only those are shown */
    public function __construct(KitShelf $shelf, BeatPage $page, public Part $part, bool $instruments = false)
    {
        $this->words = trim(mb_substr($page->chosen('kits'), 0, 80));
        $this->most = max(self::AT_ONCE, min(2000, (int) $page->chosen('kitsMost')));
        [$kits, $count] = 'shelf' === $page->chosen('side') ? $shelf->found($this->words, $instruments ? \PHP_INT_MAX : $this->most) : [[], 0];
        $kits = $instruments ? array_values(array_filter($kits, static fn (array $entry): bool => null !== $entry['sheet']?->keys)) : $kits;
        [$this->kits, $this->count] = [\array_slice($kits, 0, $this->most), $instruments ? \count($kits) : $count];
        [$kit, $version, $print] = [...explode('/', $part->shelf ?? ''), '', '', ''];
        $this->origin = '' === $kit ? null : $shelf->find((int) $kit);
        $this->version = (int) $version;
        $this->next = 1 + (null === $this->origin ? 0 : $shelf->version($this->origin->id, null)->number ?? 0);
        $this->changed = null !== $this->origin && KitSheet::of($page->beat, $part->id)->print() !== $print;
    }

    /** How many are shown by one press more; null when all of them are. */
    public function more(): ?int
    {
        return $this->count > $this->most ? $this->most + 3 * self::AT_ONCE : null;
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
