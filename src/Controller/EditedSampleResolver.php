<?php

namespace Pestle\App\Controller;

use Pestle\App\Gather\EditedSample;
use Pestle\App\Gather\SampleStore;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Sample\Edits;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;

/** Controllers that take an edited sample get the one whose hash is in the address, with the edits in its query. */
final readonly class EditedSampleResolver implements ValueResolverInterface
{
    public function __construct(private SampleStore $samples)
    {
    }

    /** @return iterable<EditedSample> */
    public function resolve(Request $request, ArgumentMetadata $argument): iterable
    {
        if (EditedSample::class !== $argument->getType()) {
            return [];
        }
        $hash = $request->attributes->get('hash');
        $sample = $this->samples->find(\is_string($hash) ? $hash : '') ?? throw new NotFoundHttpException('This sample is not in the library.');
        $json = $request->query->getString('edits');
        $edits = '' === $json ? new Edits() : EditFields::read(new Fields(['edits' => $json]), 'edits');

        if ($edits->length($sample->frames) > Edits::mostFrames($sample->frames)) {
            throw InvalidChange::field('edits', 'would make the sound longer than can be worked with.');
        }

        return [new EditedSample($sample, $edits, $this->samples)];
    }
}
