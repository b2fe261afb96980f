<?php

namespace Pestle\App\Carry;

use Pestle\App\Entity\BeatRecord;

/** What came in with an archive. */
final readonly class Unpacked
{
    /**
     * @param list<array{BeatRecord, bool}> $beats   and whether it came in: not where the same was there
     * @param int                           $samples that came in
     * @param int                           $known   samples that were there
     */
    public function __construct(public array $beats, public int $samples, public int $known)
    {
    }

    public function sentence(): string
    {
        $count = static fn (int $n, string $one): string => \sprintf('%d %s%s', $n, $one, 1 === $n ? '' : 's');
        $new = array_values(array_filter($this->beats, static fn (array $b): bool => $b[1]));
        $there = \count($this->beats) - \count($new);
        $came = match (true) {
            1 === \count($new) => $new[0][0]->name.' came in',
            [] === $new => 'No beat came in',
            default => $count(\count($new), 'beat').' came in',
        };

        return \sprintf('%s with %s; %s there already%s.', $came, $count($this->samples, 'sample'), 1 === $this->known ? '1 was' : $this->known.' were', 0 === $there ? '' : ', and so '.(1 === $there ? 'was the beat' : \sprintf('were %d beats', $there)));
    }
}
