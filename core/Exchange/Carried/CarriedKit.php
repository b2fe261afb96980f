<?php

namespace Pestle\Core\Exchange\Carried;

use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\KitSheet;

/** A version of a kit or an instrument of the shelf; by its mark, beats say where a part was loaded from. */
final readonly class CarriedKit
{
    /**
     * @param string       $mark kit, version and print, as parts have it ("3/2/ab12…")
     * @param list<string> $tags
     */
    public function __construct(public string $mark, public string $name, public array $tags, public string $note, public KitSheet $sheet)
    {
    }

    public static function read(Fields $fields): self
    {
        return new self($fields->text('mark', 60), $fields->text('name'), $fields->texts('tags', 40), $fields->has('note') ? $fields->text('note', 400) : '', KitSheet::read($fields->nested('sheet')));
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['mark' => $this->mark, 'name' => $this->name, 'tags' => $this->tags, 'note' => $this->note, 'sheet' => json_decode(BeatCodec::json($this->sheet->toArray()), true)];
    }
}
