<?php

namespace Pestle\App\Controller;

use Pestle\App\Queue\Work;
use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;

/** Work that was given up: tried again, or let go. */
#[Route('/jobs/{id}', requirements: ['id' => '\d{1,9}'], methods: 'POST')]
final class WorkController extends AbstractController
{
    public function __construct(private readonly Work $work)
    {
    }

    #[Route('/again')]
    public function again(int $id, Request $request): Response
    {
        $this->work->again($id);

        return self::back($request);
    }

    #[Route('/dismiss')]
    public function dismiss(int $id, Request $request): Response
    {
        $this->work->dismiss($id);

        return self::back($request);
    }

    private static function back(Request $request): Response
    {
        $beat = $request->request->getInt('beat');

        return new RedirectResponse($beat > 0 ? "/beats/$beat/gather" : '/', 303);
    }
}
