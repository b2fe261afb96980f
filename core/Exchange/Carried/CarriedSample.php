<?php

namespace Pestle\Core\Exchange\Carried;

use Pestle\Core\Beat\Fields;

/** A sample of an archive: its file as it once came, and what is known and said about it. */
final readonly class CarriedSample
{
    /**
     * @param CarriedFile          $file   the original, whose SHA-256 names the sample
     * @param CarriedFile|null     $played a WAV that is played in its place, where the original is compressed
     * @param array<string, mixed> $facts  what was heard, empty where it was not listened to
     * @param array<string, mixed> $said   what the maker says: name, tags, favourite and corrections
     * @param list<string>         $also   further names of files that were the same
     */
    public function __construct(public CarriedFile $file, public ?CarriedFile $played, public array $facts, public array $said, public array $also)
    {
    }

    public static function read(Fields $fields): self
    {
        $list = static fn (string $name): array => \is_array($values = $fields->raw($name)) ? array_combine(array_map(strval(...), array_keys($values)), $values) : [];

        return new self(CarriedFile::read($fields->nested('file')), $fields->has('played') ? CarriedFile::read($fields->nested('played')) : null, $list('facts'), $list('said'), $fields->texts('also', 20));
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['file' => $this->file->toArray(), 'played' => $this->played?->toArray(), 'facts' => (object) $this->facts, 'said' => (object) $this->said, 'also' => $this->also];
    }
}
