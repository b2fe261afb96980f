<?php

namespace Pestle\App\Shelf;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\KitVersion;
use Pestle\App\Entity\ShelvedKit;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KitSheet;

/** Kits and instruments that are kept, each in all its versions. */
final readonly class KitShelf
{
    public function __construct(private EntityManagerInterface $entities, private Connection $database)
    {
    }

    /**
     * @param string $words of which each stands in its name, its tags or its note; none for all kits
     *
     * @return array{list<array{kit: ShelvedKit, version: KitVersion, sheet: KitSheet|null}>, int} the newest version of the first of them,
     *                                                                                             by name, without what it holds where that
     *                                                                                             cannot be read; and how many there are
     */
    public function found(string $words, int $most): array
    {
        $wanted = array_filter(explode(' ', mb_strtolower($words)), static fn (string $word): bool => '' !== $word);
        $ids = [];
        foreach ($this->database->fetchAllAssociative('SELECT id, name, tags, note FROM kit WHERE deleted_at IS NULL ORDER BY name, id') as $row) {
            $tags = json_decode((string) (\is_string($row['tags']) ? $row['tags'] : ''), true);
            $own = mb_strtolower(implode(' ', array_filter([$row['name'], $row['note'], ...\is_array($tags) ? $tags : []], is_string(...))));
            if ([] === array_filter($wanted, static fn (string $word): bool => !str_contains($own, $word))) {
                $ids[] = $row['id'];
            }
        }
        $shown = [];
        foreach (\array_slice($ids, 0, $most) as $id) {
            $kit = $this->entities->find(ShelvedKit::class, $id);
            $version = null === $kit ? null : $this->version($kit->id, null);
            if (null !== $version && null !== $kit) {
                $shown[] = ['kit' => $kit, 'version' => $version, 'sheet' => self::readable($version)];
            }
        }

        return [$shown, \count($ids)];
    }

    private static function readable(KitVersion $version): ?KitSheet
    {
        try {
            return self::sheet($version);
        } catch (InvalidChange|\InvalidArgumentException) {
            return null;
        }
    }

    public function find(int $id): ?ShelvedKit
    {
        $kit = $this->entities->find(ShelvedKit::class, $id);

        return null === $kit?->deletedAt ? $kit : null;
    }

    public function named(string $name): ?ShelvedKit
    {
        return $this->entities->getRepository(ShelvedKit::class)->findOneBy(['name' => $name, 'deletedAt' => null]);
    }

    /** @param int|null $number null for the newest */
    public function version(int $kit, ?int $number): ?KitVersion
    {
        return $this->entities->getRepository(KitVersion::class)->findOneBy(['kitId' => $kit, ...null === $number ? [] : ['number' => $number]], ['number' => 'DESC']);
    }

    /** The version of a kit of this name that holds just this. */
    public function printed(string $print, string $name): ?KitVersion
    {
        foreach ($this->entities->getRepository(KitVersion::class)->findBy(['print' => $print], ['id' => 'DESC'], 50) as $version) {
            if ($name === $this->find($version->kitId)?->name) {
                return $version;
            }
        }

        return null;
    }

    public static function sheet(KitVersion $version): KitSheet
    {
        $data = json_decode($version->body, true);

        return KitSheet::read(new Fields(\is_array($data) ? $data : []));
    }

    /**
     * Saves what a kit holds as its next version; the same again is no new one.
     *
     * @throws InvalidChange when there is nothing to save, or it could not be read again
     */
    public function save(ShelvedKit $kit, KitSheet $sheet): KitVersion
    {
        if ([] === $sheet->pads && null === $sheet->keys) {
            throw new InvalidChange('This kit is empty: put a sound on one of its pads first.');
        }

        $sheet = $sheet->named($kit->name);
        $body = BeatCodec::json($sheet->toArray());
        // What is written is what can be read: the one rule for both is the reader.
        KitSheet::read((new Fields(['sheet' => $body]))->nested('sheet'));

        return $this->entities->wrapInTransaction(function () use ($kit, $sheet, $body): KitVersion {
            $this->entities->persist($kit);
            $this->entities->flush();
            $before = $this->version($kit->id, null);
            if ($before?->print === $sheet->print()) {
                return $before;
            }
            $version = new KitVersion($kit->id, 1 + ($before->number ?? 0), $sheet->print(), $body);
            $this->entities->persist($version);
            $this->entities->flush();
            foreach ($sheet->samples() as $sample) {
                $this->database->insert('kit_sample', ['version_id' => $version->id, 'sample' => $sample]);
            }

            return $version;
        });
    }

    /** Back on the shelf, after it was taken off. */
    public function restore(int $id): void
    {
        $kit = $this->entities->find(ShelvedKit::class, $id);
        if (null !== $kit) {
            $kit->deletedAt = null;
            $this->entities->flush();
        }
    }

    public function change(ShelvedKit $kit): void
    {
        $this->entities->persist($kit);
        $this->entities->flush();
    }

    /** Where a part's kit comes from, as Part::$shelf has it. */
    public static function mark(KitVersion $version): string
    {
        return \sprintf('%d/%d/%s', $version->kitId, $version->number, $version->print);
    }

    /**
     * A change of a beat as it was asked for; where it names a kit of the shelf, with what that holds.
     *
     * @param array<array-key, mixed> $fields
     *
     * @return array<array-key, mixed>
     *
     * @throws InvalidChange when there is no such kit
     */
    public function filled(array $fields): array
    {
        if ('load-kit' !== ($fields['type'] ?? null) || isset($fields['sheet'])) {
            return $fields;
        }
        $id = $fields['kit'] ?? null;
        $number = $fields['version'] ?? null;
        $version = is_numeric($id) && null !== $this->find((int) $id) ? $this->version((int) $id, is_numeric($number) ? (int) $number : null) : null;
        if (null === $version) {
            throw new InvalidChange('This kit is not on the shelf any more.');
        }

        return [...array_diff_key($fields, ['kit' => 1, 'version' => 1]), 'sheet' => json_decode($version->body, true), 'shelf' => self::mark($version)];
    }
}
