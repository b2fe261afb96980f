<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\HitMapping;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Pad;

/** Exchanges the kit under a part for another one of the beat: its patterns stay, and their hits find their sounds (HitMapping). */
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
        foreach ([$this->part, $this->from] as $id) {
            if (!$beat->part($id)->isKit()) {
                throw new InvalidChange(\sprintf('%s is played on keys: exchange its sound instead.', $beat->part($id)->name));
            }
        }
        $old = array_filter($beat->kit->pads, fn (Pad $pad): bool => $beat->kit->partOf($pad->id) === $this->part);

        return HitMapping::follow($this->withPads($beat, array_keys($old)), $this->part, $beat->kit)->withoutUnusedChannels();
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
        return \sprintf('Kit of %s under %s', $beat->part($this->from)->name, $beat->part($this->part)->name);
    }

    public function touches(): array
    {
        return ['kit', 'pattern', 'mixer', 'part/'.$this->part];
    }
}
