<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Keys;

/** Another sound under the notes of a part, which stay as they are; or another list of the waves that its own is made of. */
final readonly class SetSound implements Change
{
    /** @param list<\Pestle\Core\Kit\Wave>|null $waves */
    private function __construct(private string $part, private ?Keys $sound, private ?array $waves, private string $name)
    {
    }

    public static function from(Fields $fields): self
    {
        $waves = $fields->has('waves') ? KitCodec::waves($fields) : null;
        $sound = null === $waves ? KitCodec::keys($fields->nested('sound')) : null;

        return new self($fields->id('part'), $sound, $waves, $fields->has('name') ? $fields->text('name') : '');
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $keys = $part->keys ?? throw new InvalidChange(\sprintf('%s is a kit: its pads hold its sounds.', $part->name));
        try {
            $new = null === $this->sound ? $keys->with(['waves' => $this->waves ?? []]) : $this->sound->with(['channel' => $keys->channel]);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }

        return $beat->withPart($part->with(['keys' => $new]));
    }

    public function label(Beat $beat): string
    {
        $part = $beat->part($this->part)->name;

        return null === $this->sound ? 'What '.$part.' is made of' : \sprintf('%s for %s', '' === $this->name ? 'Another sound' : $this->name, $part);
    }

    public function touches(): array
    {
        return ['part/'.$this->part];
    }
}
