<?php

namespace Pestle\Core\Kit;

/** The banks of all kits of a beat, each of which says whose it is, and the pads that hold a sound. */
final readonly class Kit
{
    public const MAX_BANKS = 40;

    /**
     * @param non-empty-list<Bank> $banks
     * @param array<string, Pad>   $pads  by id, in the order of the banks
     */
    private function __construct(public array $banks, public array $pads)
    {
    }

    public static function empty(string $part): self
    {
        return new self([new Bank('a', Bank::NAME.' 1', $part)], []);
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
        return self::of($this->banks, array_replace($this->pads, [$pad->id => $pad]));
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

    /** @return list<Bank> the banks of one kit */
    public function banksOf(string $part): array
    {
        return array_values(array_filter($this->banks, static fn (Bank $bank): bool => $bank->part === $part));
    }

    /** The kit a pad's place belongs to; null when there is no such place. */
    public function partOf(string $padId): ?string
    {
        return $this->bank((string) preg_replace('/\d+$/', '', $padId))?->part;
    }

    /** Without the banks of one kit and their pads. */
    public function withoutPart(string $part): self
    {
        $banks = array_values(array_filter($this->banks, static fn (Bank $bank): bool => $bank->part !== $part));

        return [] === $banks ? throw new \InvalidArgumentException('A beat keeps at least one bank of pads.') : self::of($banks, $this->pads);
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

    /** The id a further bank would have, the first that is free (a to z, aa, ab …); null when there are as many as can be. */
    public function nextBankId(): ?string
    {
        $letter = static fn (int $i): string => \chr(97 + $i);
        for ($n = 0; $n < self::MAX_BANKS; ++$n) {
            $id = $n < 26 ? $letter($n) : $letter(intdiv($n, 26) - 1).$letter($n % 26);
            if (null === $this->bank($id)) {
                return $id;
            }
        }

        return null;
    }
}
