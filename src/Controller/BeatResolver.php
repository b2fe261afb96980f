<?php

namespace Pestle\App\Controller;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Storage\Beats;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;

/** The beat an address names, for controllers that ask for one. */
final readonly class BeatResolver implements ValueResolverInterface
{
    public function __construct(private Beats $beats)
    {
    }

    /** @return iterable<BeatRecord> */
    public function resolve(Request $request, ArgumentMetadata $argument): iterable
    {
        if (BeatRecord::class !== $argument->getType()) {
            return [];
        }
        $record = $this->beats->find($request->attributes->getInt('beat'));
        if (null === $record || null !== $record->deletedAt) {
            throw new NotFoundHttpException('This beat is not there. It may have been deleted: look at the list of beats.');
        }

        return [$record];
    }
}
