<?php

namespace Pestle\Core\Exchange\Carried;

use Pestle\Core\Beat\Codec\PatternCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Groove;

/** What an archive holds: `manifest.json` beside the files. Described in docs/formats.md. */
final readonly class Manifest
{
    public const ENTRY = 'manifest.json';
    public const VERSION = 1;
    /** Of one file; as much as a sample may have. */
    public const MOST_BYTES = 4_000_000_000;
    private const MOST_BEATS = 10_000;
    private const MOST_SAMPLES = 200_000;
    private const MOST_KITS = 20_000;

    /**
     * @param list<CarriedFile>   $beats   documents
     * @param list<CarriedSample> $samples
     * @param list<CarriedKit>    $kits
     * @param list<Groove>        $grooves of the shelf
     */
    public function __construct(public array $beats, public array $samples, public array $kits, public array $grooves)
    {
    }

    /** @throws InvalidChange that names what cannot be read */
    public static function decode(string $json): self
    {
        $data = json_decode($json, true, 64);
        $fields = new Fields(\is_array($data) ? $data : throw new InvalidChange('It cannot be read as JSON.'));
        $version = $fields->has('pestle') ? $fields->whole('pestle', 1, 1_000_000) : 0;
        if (self::VERSION !== $version) {
            throw new InvalidChange(0 === $version ? 'It is not one of Pestle.' : \sprintf('It is of version %d, and this Pestle reads version %d: bring it into a newer one.', $version, self::VERSION));
        }

        return new self(
            self::rows($fields, 'beats', self::MOST_BEATS, CarriedFile::read(...)),
            self::rows($fields, 'samples', self::MOST_SAMPLES, CarriedSample::read(...)),
            self::rows($fields, 'kits', self::MOST_KITS, CarriedKit::read(...)),
            self::rows($fields, 'grooves', self::MOST_KITS, PatternCodec::groove(...)),
        );
    }

    /**
     * @template T
     *
     * @param callable(Fields): T $one
     *
     * @return list<T>
     *
     * @throws InvalidChange
     */
    private static function rows(Fields $fields, string $name, int $most, callable $one): array
    {
        $list = [];
        foreach ($fields->items($name, $most) as $n => $row) {
            try {
                $list[] = $one(new Fields(\is_array($row) ? $row : []));
            } catch (InvalidChange $e) {
                throw new InvalidChange(\sprintf('%s, number %d: %s', $name, $n + 1, $e->getMessage()));
            }
        }

        return $list;
    }

    public function encode(): string
    {
        return json_encode([
            'pestle' => self::VERSION,
            'beats' => array_map(static fn (CarriedFile $f): array => $f->toArray(), $this->beats),
            'samples' => array_map(static fn (CarriedSample $s): array => $s->toArray(), $this->samples),
            'kits' => array_map(static fn (CarriedKit $k): array => $k->toArray(), $this->kits),
            'grooves' => array_map(static fn (Groove $g): array => ['id' => $g->id, 'name' => $g->name, 'grid' => $g->grid, 'slots' => $g->slots], $this->grooves),
        ], \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_PRESERVE_ZERO_FRACTION);
    }

    /** @return list<CarriedFile> all files, each once */
    public function files(): array
    {
        $files = $this->beats;
        foreach ($this->samples as $sample) {
            array_push($files, $sample->file, ...null === $sample->played ? [] : [$sample->played]);
        }

        return $files;
    }
}
