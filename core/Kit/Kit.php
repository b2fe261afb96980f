<?php

namespace Pestle\Core\Kit;

/** The banks of a beat and the pads that hold a sound. */
final readonly class Kit
{
    public const MAX_BANKS = 8;

    /**
     * @param non-empty-list<Bank> $banks
     * @param array<string, Pad>   $pads  by id, in the order of the banks
     */
    private function __construct(public array $banks, public array $pads)
    {
    }

    public static function empty(): self
    {
        return new self([new Bank('a', 'Bank A')], []);
    }

    /**
     * @param non-empty-list<Bank> $banks
     * @param array<string, Pad>   $pads
     */
    public static function of(array $banks, array $pads): self
    {
        $ordered = [];
        foreach ($banks as $bank) {
            foreach ($bank->padIds() as $id) {
                if (isset($pads[$id])) {
                    $ordered[$id] = $pads[$id];
                }
            }
        }

        return new self($banks, $ordered);
    }

    public function pad(string $id): ?Pad
    {
        return $this->pads[$id] ?? null;
    }

    public function withPad(Pad $pad): self
    {
        return self::of($this->banks, [...$this->pads, $pad->id => $pad]);
    }

    public function withoutPad(string $id): self
    {
        return self::of($this->banks, array_diff_key($this->pads, [$id => true]));
    }

    public function withBank(Bank $bank): self
    {
        $banks = $this->banks;
        foreach ($banks as $i => $old) {
            if ($old->id === $bank->id) {
                $banks[$i] = $bank;

                return new self($banks, $this->pads);
            }
        }

        return new self([...$banks, $bank], $this->pads);
    }

    public function bank(string $id): ?Bank
    {
        foreach ($this->banks as $bank) {
            if ($bank->id === $id) {
                return $bank;
            }
        }

        return null;
    }

    public function hasPlace(string $padId): bool
    {
        foreach ($this->banks as $bank) {
            if (\in_array($padId, $bank->padIds(), true)) {
                return true;
            }
        }

        return false;
    }

    /** The letter a further bank would have, or null when there are eight. */
    public function nextBankId(): ?string
    {
        $n = \count($this->banks);

        return $n < self::MAX_BANKS ? 'abcdefgh'[$n] : null;
    }
}
