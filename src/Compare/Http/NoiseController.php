<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Http;

use Symfony\Bundle\FrameworkBundle\Controller\AbstractController;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsCsrfTokenValid;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Compare\Entity\NoiseSetting;
use Ypomna\App\Compare\LifelineRepository;
use Ypomna\App\Compare\Message\MeasureAgain;
use Ypomna\App\Compare\NoiseSettings;
use Ypomna\App\Compare\Value\RuleScope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Compare\Noise\InvalidRule;
use Ypomna\Core\Compare\Noise\NoiseRule;

/** Rules about what is passed over on a page: seen, set, ended, put back, handed on. */
#[Allow(Right::Read)]
final class NoiseController extends AbstractController
{
    public function __construct(
        private readonly AddressRepository $addresses,
        private readonly NoiseSettings $rules,
        private readonly LifelineRepository $lifelines,
        private readonly MessageBusInterface $bus,
    ) {
    }

    #[Route('/address/{code}/noise', name: 'noise', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function rules(Address $address): Response
    {
        return $this->page($address);
    }

    /** As `bin/ypomna compare --rules` reads them. */
    #[Route('/address/{code}/noise.json', name: 'noise_file', requirements: ['code' => Codes::PATTERN], methods: ['GET'])]
    public function rulesFile(Address $address): Response
    {
        return new Response(
            $this->rules->rules($address)->toJson(),
            Response::HTTP_OK,
            ['Content-Type' => 'application/json', 'Content-Disposition' => 'attachment; filename="rules-'.$address->code.'.json"'],
        );
    }

    #[Allow(Right::Keep)]
    #[Route('/address/{code}/noise', name: 'noise_set', requirements: ['code' => Codes::PATTERN], methods: ['POST'])]
    #[IsCsrfTokenValid('noise')]
    public function set(Actor $actor, Address $address, Request $request): Response
    {
        $form = $request->request;
        try {
            $rule = '' !== $form->getString('pattern')
                ? NoiseRule::pattern($form->getString('pattern'), $form->getString('note'))
                : NoiseRule::region($form->getString('selector'), $form->getString('quote'), $form->getString('note'));
        } catch (InvalidRule $e) {
            return $this->page(
                $address,
                $e->getMessage(),
                [
                    'pattern' => $form->getString('pattern'), 'selector' => $form->getString('selector'),
                    'quote' => $form->getString('quote'), 'note' => $form->getString('note'),
                ],
                Response::HTTP_UNPROCESSABLE_ENTITY,
            );
        }
        $setting = $this->rules->set($actor, $address, RuleScope::tryFrom($form->getString('scope')) ?? RuleScope::Address, $rule);
        $this->measureAgain($setting);

        return $this->back($request, $address);
    }

    #[Allow(Right::Keep)]
    #[Route('/noise/{rule}/{act}', name: 'noise_act', requirements: ['rule' => Codes::PATTERN, 'act' => 'end|back'], methods: ['POST'])]
    #[IsCsrfTokenValid('noise')]
    public function act(Viewer $viewer, string $rule, string $act, Request $request): Response
    {
        $setting = $this->rules->byCode($rule) ?? throw $this->createNotFoundException('There is no such rule.');
        'end' === $act ? $this->rules->end($setting) : $this->rules->putBack($setting);
        $this->measureAgain($setting);

        return $this->back($request, $this->address($viewer, $request->request->getString('address')));
    }

    /** @param array<string, string> $typed */
    private function page(Address $address, string $problem = '', array $typed = [], int $status = Response::HTTP_OK): Response
    {
        $habits = $this->lifelines->habits($address)->all();

        return $this->render('compare/noise.html.twig', [
            'address' => $address, 'rules' => $this->rules->settings($address), 'ended' => $this->rules->settings($address, true),
            'problem' => $problem, 'typed' => $typed,
            'scopes' => array_map(static fn (RuleScope $scope): string => $scope->value, RuleScope::cases()),
            'steps' => $habits['steps'],
        ], new Response('', $status));
    }

    private function measureAgain(NoiseSetting $setting): void
    {
        $this->bus->dispatch(new MeasureAgain($setting->place, RuleScope::Address === $setting->scope));
    }

    /** To the comparison from which the rule was set, if it was one. */
    private function back(Request $request, Address $address): Response
    {
        $pair = $request->request->getString('pair');

        return 1 === preg_match('~^('.Codes::PATTERN.')/('.Codes::PATTERN.')$~D', $pair, $m)
            ? $this->redirectToRoute('compare', ['one' => $m[1], 'other' => $m[2]], Response::HTTP_SEE_OTHER)
            : $this->redirectToRoute('noise', ['code' => $address->code], Response::HTTP_SEE_OTHER);
    }

    private function address(Viewer $viewer, string $code): Address
    {
        return $this->addresses->byCode($viewer, $code)
            ?? throw $this->createNotFoundException('There is no such address in the catalogue.');
    }
}
