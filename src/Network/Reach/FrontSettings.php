<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Reach;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\App\Shared\PublicUrl;

/** What the settings say of the way on which readers come. */
final readonly class FrontSettings
{
    /** Octets of a name (RFC 1035, clause 2.3.4), less those of an archived page's label with its dot. */
    private const LONGEST_DOMAIN = 253 - 64;

    public function __construct(
        #[Autowire('%env(PUBLIC_URL)%')] public string $publicUrl,
        #[Autowire('%env(PAGES_DOMAIN)%')] public string $pagesDomain,
        #[Autowire('%env(TLS_CERTIFICATE)%')] public string $certificate,
        #[Autowire('%env(TLS_KEY)%')] public string $key,
        #[Autowire('%env(PAGES_CERTIFICATE)%')] public string $pagesCertificate,
        #[Autowire('%env(PAGES_KEY)%')] public string $pagesKey,
        #[Autowire('%env(TRUSTED_PROXIES)%')] public string $proxies,
        #[Autowire('%env(YPOMNA_MODE)%')] public string $mode,
    ) {
    }

    /** @throws \InvalidArgumentException with a sentence that says what is wrong */
    public function public(): PublicUrl
    {
        return new PublicUrl($this->publicUrl);
    }

    /** Whether this machine alone is meant. */
    public function isNear(): bool
    {
        return 'localhost' === $this->public()->host && 'localhost' === $this->pagesDomain;
    }

    /**
     * What can be told of them without asking anybody.
     *
     * @return list<string> sentences; empty if all is well
     */
    public function faults(): array
    {
        try {
            $public = $this->public();
        } catch (\InvalidArgumentException $e) {
            return [$e->getMessage()];
        }
        $faults = [];
        if (1 !== preg_match('/^'.PublicUrl::NAME.'$/D', $this->pagesDomain) || \strlen($this->pagesDomain) > self::LONGEST_DOMAIN
            || 1 === preg_match('/(?:^|\.)\d+$/D', $this->pagesDomain)) {
            $faults[] = \sprintf(
                'PAGES_DOMAIN is “%s”; it has to be a name in small letters of at most %d characters, such as pages.ypomna.example.',
                $this->pagesDomain, self::LONGEST_DOMAIN,
            );
        } elseif (str_ends_with($public->host, '.'.$this->pagesDomain)) {
            $faults[] = \sprintf(
                'PUBLIC_URL’s host %s lies below PAGES_DOMAIN (%s), where archived pages stand; give these a domain beside it.',
                $public->host, $this->pagesDomain,
            );
        }
        if (('' === $this->certificate) !== ('' === $this->key)) {
            $faults[] = 'TLS_CERTIFICATE and TLS_KEY belong together; one of them is not set.';
        }
        if (('' === $this->pagesCertificate) !== ('' === $this->pagesKey)) {
            $faults[] = 'PAGES_CERTIFICATE and PAGES_KEY belong together; one of them is not set.';
        }
        if ('' === $this->certificate && '' !== $this->pagesCertificate) {
            $faults[] = 'PAGES_CERTIFICATE is set, but TLS_CERTIFICATE is not.';
        }
        if ('' !== $this->certificate && !$public->isTls()) {
            $faults[] = \sprintf('TLS_CERTIFICATE is set, but PUBLIC_URL (%s) does not begin with https.', $this->publicUrl);
        }

        return $faults;
    }

    /**
     * What is unwise, though it works.
     *
     * @return list<string> sentences
     */
    public function warnings(): array
    {
        $public = $this->public();
        if ($this->isNear()) {
            return [];
        }

        return array_values(array_filter([
            $public->isTls() ? '' : 'PUBLIC_URL begins with http: passwords and pages go over the net for everybody on the way to read.',
            $public->isTls() && '' === $this->certificate && '' === $this->proxies
                ? 'PUBLIC_URL begins with https, but there is neither a certificate (TLS_CERTIFICATE and TLS_KEY) nor a proxy in front'
                    .' (TRUSTED_PROXIES).' : '',
            'demo' === $this->mode
                ? 'This is the demo, and the passwords of its people are known to everybody: it should not be open to other machines.' : '',
        ], static fn (string $warning): bool => '' !== $warning));
    }
}
