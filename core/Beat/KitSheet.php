<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\WholeKit;
use Pestle\Core\Kit\Zone;
use Pestle\Core\Sample\Edits;

/**
 * A kit, or an instrument, on its own: what is kept on the shelf, loaded into beats and carried out. Its pads have ids of
 * their own (a0 to a15, b0 …) and no channels.
 */
final readonly class KitSheet
{
    /**
     * @param list<string>         $banks their names
     * @param array<string, Pad>   $pads  by id
     * @param array<string, Edits> $edits of its samples, by hash, only where there are some
     */
    public function __construct(public string $name, public array $banks, public array $pads, public ?Keys $keys = null, public WholeKit $whole = new WholeKit(), public array $edits = [])
    {
    }

    /** The kit or instrument of a part, as it is in a beat. */
    public static function of(Beat $beat, string $part): self
    {
        $of = $beat->part($part);
        $pads = $names = [];
        foreach ($beat->kit->banksOf($part) as $i => $bank) {
            foreach ($bank->padIds() as $place => $id) {
                $names[$id] = self::bankId($i).$place;
            }
        }
        foreach (array_intersect_key($beat->kit->pads, $names) as $id => $pad) {
            $pads[$names[$id]] = $pad->with(['id' => $names[$id], 'channel' => 'none', 'along' => self::ofThese($names, $pad->along), 'silences' => self::ofThese($names, $pad->silences)]);
        }
        $sheet = new self($of->name, array_map(static fn (Bank $b): string => $b->name, $beat->kit->banksOf($part)), $pads, $of->keys?->with(['channel' => 'none']), $of->whole);

        return new self($sheet->name, $sheet->banks, $sheet->pads, $sheet->keys, $sheet->whole, array_intersect_key($beat->edits, array_flip($sheet->samples())));
    }

    /**
     * @param array<string, string> $names
     * @param list<string>          $ids
     *
     * @return list<string> those that have a name here
     */
    private static function ofThese(array $names, array $ids): array
    {
        return array_values(array_intersect_key($names, array_flip($ids)));
    }

    public static function bankId(int $i): string
    {
        return $i < 26 ? \chr(97 + $i) : \chr(96 + intdiv($i, 26)).\chr(97 + $i % 26);
    }

    /** @return list<Layer> all its sounds */
    public function sounds(): array
    {
        return [...array_merge([], ...array_values(array_map(static fn (Pad $p): array => $p->layers, $this->pads))), ...$this->keys?->sounds() ?? []];
    }

    /** @return list<string> hashes of all its samples */
    public function samples(): array
    {
        return array_values(array_unique(array_column($this->sounds(), 'sample')));
    }

    /** @param callable(Layer): Layer $changed */
    public function mapSounds(callable $changed): self
    {
        return new self($this->name, $this->banks, array_map(static fn (Pad $p): Pad => $p->mapLayers($changed), $this->pads), $this->keys?->mapSounds($changed), $this->whole, $this->edits);
    }

    /**
     * Without some of its sounds; a pad that has none left goes.
     *
     * @param callable(Layer): bool $goes
     */
    public function without(callable $goes): self
    {
        $pads = [];
        foreach ($this->pads as $id => $pad) {
            $kept = array_values(array_filter($pad->layers, static fn (Layer $l): bool => !$goes($l)));
            if ([] !== $kept) {
                $pads[$id] = $pad->with(['layers' => $kept]);
            }
        }
        $left = [];
        foreach ($this->keys?->all() ?? [] as $one) {
            $zones = array_values(array_filter($one->zones, static fn (Zone $z): bool => !$goes($z->sound)));
            if ([] !== $zones || [] !== $one->waves) {
                $left[] = $one->with(['zones' => $zones, 'stack' => []]);
            }
        }
        $keys = [] === $left ? null : $left[0]->with(['stack' => \array_slice($left, 1)]);

        return new self($this->name, $this->banks, $pads, $keys, $this->whole, $this->edits);
    }

    public function named(string $name): self
    {
        return new self($name, $this->banks, $this->pads, $this->keys, $this->whole, $this->edits);
    }

    /** Changes when the kit sounds or is laid out differently; its name does not count. */
    public function print(): string
    {
        return substr(hash('sha256', (string) json_encode(array_diff_key($this->toArray(), ['name' => 1]))), 0, 24);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'name' => $this->name,
            'banks' => $this->banks,
            'pads' => array_map(static fn (Pad $p): array => $p->toArray(), array_values($this->pads)),
            'keys' => $this->keys?->toArray(),
            'whole' => $this->whole->settings(),
            'edits' => array_map(static fn (string $hash, Edits $e): array => ['sample' => $hash, 'list' => $e->toArray()], array_keys($this->edits), array_values($this->edits)),
        ];
    }

    /** @throws InvalidChange */
    public static function read(Fields $f): self
    {
        $pads = $edits = [];
        foreach ($f->rows('pads', Kit::MAX_BANKS * Bank::SIZE) as $row) {
            $pad = KitCodec::pad($row);
            $pads[$pad->id] = $pad;
        }
        foreach ($f->rows('edits', 5000) as $row) {
            $edits[$row->hash('sample')] = EditFields::read($row, 'list');
        }

        return new self(
            $f->text('name'),
            $f->texts('banks', Kit::MAX_BANKS),
            $pads,
            $f->has('keys') ? KitCodec::keys($f->nested('keys')) : null,
            (new WholeKit())->with($f->nested('whole')->settings(WholeKit::parameters())),
            $edits,
        );
    }
}
