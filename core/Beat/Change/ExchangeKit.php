<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\HitMapping;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\PlacesAndPitches;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Part;

/**
 * Exchanges what a part is played on for what another part of the beat is: its patterns stay. Hits find the sounds of another
 * kit (HitMapping), notes stay on another instrument; where a kit comes for an instrument or the reverse, places become pitches.
 */
final readonly class ExchangeKit implements Change
{
    private function __construct(private string $part, private string $from)
    {
    }

    public static function from(Fields $fields): self
    {
        $change = new self($fields->id('part'), $fields->id('from'));
        if ($change->part === $change->from) {
            throw InvalidChange::field('from', 'must be another part.');
        }

        return $change;
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $other = $beat->part($this->from);
        if (null !== $other->keys) {
            return null === $part->keys ? self::onKeys($beat, $part, $other->keys) : $beat->withPart($part->with(['keys' => $other->keys->with(['channel' => $part->keys->channel]), 'shelf' => $other->shelf]));
        }
        if (null !== $part->keys) {
            return $this->onPads($beat->withPart($part->with(['keys' => null, 'whole' => $other->whole])));
        }

        return HitMapping::follow($this->withSounds($beat), $this->part, $beat->kit)->withoutUnusedChannels();
    }

    /** The beat with the other kit's sounds under the part; its hits are where they were. */
    public function withSounds(Beat $beat): Beat
    {
        $old = array_filter($beat->kit->pads, fn (Pad $pad): bool => $beat->kit->partOf($pad->id) === $this->part);

        return $this->withPads($beat, array_keys($old));
    }

    private static function onKeys(Beat $beat, Part $part, Keys $keys): Beat
    {
        if ([] === array_filter($beat->kit->banks, static fn (Bank $bank): bool => $bank->part !== $part->id)) {
            throw new InvalidChange(\sprintf('%s is the only kit, and a beat keeps one: copy it, then play one of the two on this.', $part->name));
        }
        $places = PlacesAndPitches::places($beat, $part->id);
        $channel = $beat->channel($keys->channel)->with(['id' => $beat->mixer->nextId(NodeKind::Channel), 'name' => $part->name]);
        $after = $beat->withMixer($beat->mixer->with($channel))->withKit($beat->kit->withoutPart($part->id))->withPart($part->with(['keys' => $keys->with(['channel' => $channel->id]), 'shelf' => null]));
        foreach ($after->patterns as $pattern) {
            $after = $pattern->part === $part->id ? $after->withPattern(PlacesAndPitches::onNotes($pattern, $places)) : $after;
        }

        return $after->withoutUnusedChannels();
    }

    private function onPads(Beat $beat): Beat
    {
        $after = $this->withPads($beat, []);
        $its = array_filter($after->patterns, fn (Pattern $p): bool => $p->part === $this->part);
        $last = max([0, ...array_map(static fn (Note $n): int => PlacesAndPitches::place($n->pitch), array_merge([], ...array_values(array_map(static fn (Pattern $p): array => $p->notes, $its))))]);
        while (\count($places = PlacesAndPitches::places($after, $this->part)) <= $last) {
            $bank = $after->kit->nextBankId() ?? throw new InvalidChange('All banks are in use: delete a part first.');
            $after = $after->withKit($after->kit->withBank(new Bank($bank, 'Without a sound', $this->part)));
        }
        foreach ($its as $pattern) {
            $after = $after->withPattern(PlacesAndPitches::onPads($pattern, $places));
        }

        return $after->withoutUnusedChannels();
    }

    /** @param list<string> $cleared pads that hold the kit that goes */
    private function withPads(Beat $beat, array $cleared): Beat
    {
        $kit = $beat->kit;
        foreach ($cleared as $id) {
            $kit = $kit->withoutPad($id);
        }
        $own = $kit->banksOf($this->part);
        $copies = new ChannelCopies($beat);
        foreach ($beat->kit->banksOf($this->from) as $i => $bank) {
            $target = $own[$i] ?? new Bank($kit->nextBankId() ?? throw new InvalidChange('All banks are in use: delete a part first.'), $bank->name, $this->part);
            $kit = $kit->withBank(new Bank($target->id, $bank->name, $this->part));
            foreach (array_combine($bank->padIds(), $target->padIds()) as $from => $to) {
                $pad = $beat->kit->pad($from);
                $kit = null === $pad ? $kit : $kit->withPad($copies->at($pad, $to));
            }
        }

        return $copies->beat->withKit($kit);
    }

    public function label(Beat $beat): string
    {
        $other = $beat->part($this->from);

        return \sprintf('%s under %s', $other->isKit() ? 'Kit of '.$other->name : $other->name, $beat->part($this->part)->name);
    }

    public function touches(): array
    {
        return ['kit', 'pattern', 'mixer', 'part/'.$this->part];
    }
}
