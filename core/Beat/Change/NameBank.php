<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Kit;

/** Renames a bank, or adds the next one, to the first kit unless another part is named. */
final readonly class NameBank implements Change
{
    private function __construct(private string $bank, private string $name, private ?string $part)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('bank'), $fields->text('name', 24), $fields->has('part') ? $fields->id('part') : null);
    }

    public function apply(Beat $beat): Beat
    {
        if (null === $beat->kit->bank($this->bank) && $beat->kit->nextBankId() !== $this->bank) {
            throw new InvalidChange(\sprintf('A beat has at most %d banks, added one after another.', Kit::MAX_BANKS));
        }

        $part = $beat->kit->bank($this->bank)->part ?? $this->part ?? $beat->firstKit()->id;

        return $beat->part($part)->isKit() ? $beat->withKit($beat->kit->withBank(new Bank($this->bank, $this->name, $part))) : throw InvalidChange::field('part', 'must be a kit.');
    }

    public function label(Beat $beat): string
    {
        return null === $beat->kit->bank($this->bank) ? 'New bank' : 'Name of '.$this->name;
    }

    public function touches(): array
    {
        return ['kit/bank-'.$this->bank];
    }
}
