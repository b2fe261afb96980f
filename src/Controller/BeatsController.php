<?php

namespace Pestle\App\Controller;

use Pestle\App\Deliver\Deliveries;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Page\BeatPrint;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\Unreadable;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Change\RenameBeat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Titles;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** The list of beats. */
final class BeatsController extends AbstractController
{
    public function __construct(private readonly Beats $beats)
    {
    }

    #[Route('/', methods: 'GET')]
    public function list(Request $request): Response
    {
        $rows = [];
        foreach ($this->beats->all() as $record) {
            try {
                $beat = $this->beats->content($record);
                $rows[] = ['record' => $record, 'beat' => $beat, 'print' => BeatPrint::of($beat)];
            } catch (Unreadable $e) {
                $rows[] = ['record' => $record, 'beat' => null, 'print' => null, 'problem' => $e->getMessage()];
            }
        }
        $deleted = $this->beats->find($request->query->getInt('deleted'));

        return $this->render('beats/list.html.twig', [
            'rows' => $rows,
            'deleted' => null !== $deleted?->deletedAt ? $deleted : null,
        ]);
    }

    #[Route('/beats', methods: 'POST')]
    public function create(): Response
    {
        $taken = array_map(static fn (BeatRecord $r): string => $r->name, $this->beats->all());
        $record = $this->beats->add(Beat::empty(Titles::beat(array_values($taken), random_int(0, 9999))));

        return $this->seeOther('/beats/'.$record->id.'/gather');
    }

    #[Route('/beats/{id}/duplicate', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function duplicate(int $id): Response
    {
        $beat = $this->beats->content($this->record($id));
        $this->beats->add($beat->with(['name' => mb_substr($beat->name, 0, 73).' copy']));

        return $this->seeOther('/');
    }

    #[Route('/beats/{id}/rename', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function rename(int $id, Request $request): Response
    {
        $record = $this->record($id);
        $this->beats->change($record, $record->head, bin2hex(random_bytes(8)), RenameBeat::from(new Fields(ChangeController::fields($request))));

        return $this->seeOther('/');
    }

    /** Back to the newest revision that can be read. */
    #[Route('/beats/{id}/recover', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function recover(int $id): Response
    {
        if (!$this->beats->recover($this->record($id))) {
            throw new InvalidChange('No revision of this beat can be read. Delete it, or bring in a copy.');
        }

        return $this->seeOther('/beats/'.$id.'/pattern');
    }

    #[Route('/beats/{id}/delete', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function delete(int $id, Deliveries $deliveries): Response
    {
        $record = $this->record($id);
        $this->beats->setDeleted($record, true);
        $deliveries->cancelAll($record);

        return $this->seeOther('/?deleted='.$id);
    }

    #[Route('/beats/{id}/restore', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
    public function restore(int $id): Response
    {
        $record = $this->beats->find($id) ?? throw $this->createNotFoundException('This beat is not there.');
        $this->beats->setDeleted($record, false);

        return $this->seeOther('/');
    }

    private function record(int $id): BeatRecord
    {
        $record = $this->beats->find($id);

        return null === $record || null !== $record->deletedAt ? throw $this->createNotFoundException('This beat is not there.') : $record;
    }

    private function seeOther(string $url): RedirectResponse
    {
        return new RedirectResponse($url, 303);
    }
}
