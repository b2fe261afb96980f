<?php

namespace Pestle\Core\Exchange\Carried;

use Pestle\Core\Beat\Fields;

/** An entry of an archive, with its length in bytes and its SHA-256, by which damage is found. */
final readonly class CarriedFile
{
    public function __construct(public string $entry, public int $bytes, public string $sha256)
    {
    }

    public static function of(string $entry, string $path): self
    {
        return new self($entry, (int) filesize($path), (string) hash_file('sha256', $path));
    }

    public static function text(string $entry, string $text): self
    {
        return new self($entry, \strlen($text), hash('sha256', $text));
    }

    public static function read(Fields $fields): self
    {
        return new self($fields->text('entry', 400), $fields->whole('bytes', 0, Manifest::MOST_BYTES), $fields->hash('sha256'));
    }

    /** @return array{entry: string, bytes: int, sha256: string} */
    public function toArray(): array
    {
        return ['entry' => $this->entry, 'bytes' => $this->bytes, 'sha256' => $this->sha256];
    }
}
