<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Hit;

/**
 * Exchanges the kit under a part for another one of the beat: its patterns stay. A hit finds its sound at its place where
 * that has the same role, else on the first pad of its role, else at its place. Hits that find none are kept and silent.
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
        foreach ([$this->part, $this->from] as $id) {
            if (!$beat->part($id)->isKit()) {
                throw new InvalidChange(\sprintf('%s is played on keys: exchange its sound instead.', $beat->part($id)->name));
            }
        }
        $old = array_filter($beat->kit->pads, fn (Pad $pad): bool => $beat->kit->partOf($pad->id) === $this->part);
        $beat = $this->withPads($beat, array_keys($old));
        $new = array_filter($beat->kit->pads, fn (Pad $pad): bool => $beat->kit->partOf($pad->id) === $this->part);
        foreach ($beat->patterns as $pattern) {
            if ($pattern->part === $this->part) {
                $hits = array_map(static fn (Hit $hit): Hit => $hit->on(self::place($hit->pad, $old[$hit->pad] ?? null, $new)), $pattern->hits);
                $beat = $beat->withPattern($pattern->withHits($hits));
            }
        }

        return $beat->withoutUnusedChannels();
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

    /**
     * Where a hit finds its sound.
     *
     * @param array<string, Pad> $new pads of the other kit
     */
    public static function place(string $id, ?Pad $old, array $new): string
    {
        if (null === $old || ($new[$id] ?? null)?->role === $old->role) {
            return $id;
        }
        $alike = array_filter($new, static fn (Pad $pad): bool => $pad->role === $old->role);

        return [] === $alike ? $id : (string) array_key_first($alike);
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
