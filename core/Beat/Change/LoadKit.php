<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\HitMapping;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Song\Part;

/**
 * Puts a kit from the shelf, or some of its pads, under a part; or an instrument. Its patterns stay, and their hits find
 * their sounds (HitMapping). A pad takes the channel of the one it stands in for. A part that is not there yet is made.
 */
final readonly class LoadKit implements Change
{
    /**
     * @param list<string> $only pads of the sheet that are wanted; all of them when there are none
     * @param string|null  $onto where the one that is wanted goes; null for the place it has in its kit
     */
    private function __construct(private string $part, private KitSheet $sheet, private array $only, private ?string $onto, private ?string $shelf)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('part'), KitSheet::read($fields->nested('sheet')), $fields->has('only') ? $fields->ids('only', 640) : [], $fields->has('onto') ? $fields->id('onto') : null, $fields->has('shelf') ? SongCodec::shelf($fields) : null);
    }

    public function apply(Beat $beat): Beat
    {
        if (!isset($beat->parts[$this->part])) {
            $beat = self::withPart($beat, $this->part, $this->sheet);
        }
        $part = $beat->part($this->part);
        if ($part->isKit() !== (null === $this->sheet->keys)) {
            throw new InvalidChange(\sprintf($part->isKit() ? '%s is an instrument: load it into a part of its own.' : '%s is a kit: load it into a part of its own.', $this->sheet->name));
        }
        $beat = $beat->with(['edits' => $beat->edits + $this->sheet->edits]);
        if (null !== $this->sheet->keys) {
            $keys = $this->sheet->keys->with(['channel' => $part->keys->channel ?? '']);

            return $beat->withPart($part->with(['keys' => $keys, 'shelf' => $this->shelf]));
        }
        $before = $beat->kit;
        $beat = $this->withPads($beat);
        $beat = [] === $this->only ? HitMapping::follow($beat, $this->part, $before) : $beat;
        $whole = [] === $this->only ? $this->sheet->whole : $part->whole;

        return $beat->withPart($part->with(['whole' => $whole, 'shelf' => [] === $this->only ? $this->shelf : $part->shelf]))->withoutUnusedChannels();
    }

    private static function withPart(Beat $beat, string $id, KitSheet $sheet): Beat
    {
        if (null === $sheet->keys) {
            $bank = $beat->kit->nextBankId() ?? throw new InvalidChange('All banks are in use: delete a part first.');

            return $beat->withPart(new Part($id, $sheet->name))->withKit($beat->kit->withBank(new Bank($bank, Bank::NAME.' 1', $id)));
        }
        $channel = Node::channel($beat->mixer->nextId(NodeKind::Channel), $sheet->name, null);

        return $beat->withMixer($beat->mixer->with($channel))->withPart(new Part($id, $sheet->name, null, $sheet->keys->with(['channel' => $channel->id])));
    }

    private function withPads(Beat $beat): Beat
    {
        $kit = $beat->kit;
        $before = array_filter($kit->pads, fn (Pad $pad): bool => $kit->partOf($pad->id) === $this->part);
        if ([] === $this->only) {
            foreach (array_keys($before) as $id) {
                $kit = $kit->withoutPad((string) $id);
            }
        }
        $places = [];
        foreach ($this->sheet->banks as $i => $name) {
            $target = $kit->banksOf($this->part)[$i] ?? new Bank($kit->nextBankId() ?? throw new InvalidChange('All banks are in use: delete a part first.'), $name, $this->part);
            $kit = $kit->withBank([] === $this->only ? new Bank($target->id, $name, $this->part) : $target);
            foreach ($target->padIds() as $place => $id) {
                $places[KitSheet::bankId($i).$place] = $id;
            }
        }
        if (null !== $this->onto && 1 === \count($this->only)) {
            if ($kit->partOf($this->onto) !== $this->part) {
                throw InvalidChange::field('onto', 'must be a place of this kit.');
            }
            $places[$this->only[0]] = $this->onto;
        }
        $mixer = $beat->mixer;
        $renamed = static fn (string $other): ?string => $places[$other] ?? null;
        foreach ($this->sheet->pads as $id => $pad) {
            if (!isset($places[$id]) || ([] !== $this->only && !\in_array($id, $this->only, true))) {
                continue;
            }
            $channel = $before[$places[$id]]->channel ?? null;
            if (null === $channel) {
                $mixer = $mixer->with($node = Node::channel($mixer->nextId(NodeKind::Channel), $pad->name, $pad->role->isDrum() ? Mixer::DRUMS : null));
                $channel = $node->id;
            }
            $kit = $kit->withPad($pad->with(['id' => $places[$id], 'channel' => $channel, 'along' => array_values(array_filter(array_map($renamed, $pad->along))), 'silences' => array_values(array_filter(array_map($renamed, $pad->silences)))]));
        }

        return $beat->withMixer($mixer)->withKit($kit);
    }

    public function label(Beat $beat): string
    {
        return match (\count($this->only)) {
            0 => $this->sheet->name.' under '.(($beat->parts[$this->part] ?? null)->name ?? 'a new part'),
            1 => ($this->sheet->pads[$this->only[0]]->name ?? 'A pad').' of '.$this->sheet->name,
            default => \count($this->only).' pads of '.$this->sheet->name,
        };
    }

    public function touches(): array
    {
        return ['kit', 'pattern', 'mixer', 'edits', 'part/'.$this->part];
    }
}
