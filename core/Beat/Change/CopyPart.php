<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Song\Part;

/** A part once more: its sounds, with channels of their own, and its patterns. The copy plays in no section yet. */
final readonly class CopyPart implements Change
{
    private function __construct(private string $part, private string $id)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('part'), $fields->id('id'));
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        if (isset($beat->parts[$this->id])) {
            throw new InvalidChange('A part with this id is in the beat already.');
        }
        $copy = $part->with(['id' => $this->id, 'name' => mb_substr($part->name, 0, 75).' copy']);
        $beat = null === $copy->keys ? $beat->withPart($copy) : self::withKeys($beat, $copy);
        [$beat, $pads] = self::withBanks($beat, $part->id, $copy->id);
        foreach ($beat->patterns as $pattern) {
            if ($pattern->part === $part->id) {
                $beat = $beat->withPattern($pattern->with([
                    'id' => $beat->nextPatternId(),
                    'part' => $copy->id,
                    'hits' => array_values(array_map(static fn (Hit $hit): Hit => $hit->on($pads[$hit->pad] ?? $hit->pad), $pattern->hits)),
                ]));
            }
        }

        return $beat;
    }

    private static function withKeys(Beat $beat, Part $copy): Beat
    {
        $channel = $beat->channel($copy->keys->channel ?? '')->with(['id' => $beat->mixer->nextId(NodeKind::Channel), 'name' => $copy->name]);

        return $beat->withMixer($beat->mixer->with($channel))->withPart($copy->with(['keys' => $copy->keys?->with(['channel' => $channel->id])]));
    }

    /** @return array{Beat, array<string, string>} and the copy of every pad */
    private static function withBanks(Beat $beat, string $from, string $to): array
    {
        $pads = [];
        $kit = $beat->kit;
        $copies = new ChannelCopies($beat);
        foreach ($kit->banksOf($from) as $bank) {
            $id = $kit->nextBankId() ?? throw new InvalidChange('All banks are in use: delete a part first.');
            $kit = $kit->withBank($new = new Bank($id, $bank->name, $to));
            foreach (array_combine($bank->padIds(), $new->padIds()) as $old => $place) {
                $pad = $kit->pad($old);
                if (null !== $pad) {
                    $pads[$old] = $place;
                    $kit = $kit->withPad($copies->at($pad, $place));
                }
            }
        }

        return [$copies->beat->withKit($kit), $pads];
    }

    public function label(Beat $beat): string
    {
        return 'Copy of '.$beat->part($this->part)->name;
    }

    public function touches(): array
    {
        return ['part/'.$this->part, 'part/'.$this->id, 'kit', 'pattern', 'mixer'];
    }
}
