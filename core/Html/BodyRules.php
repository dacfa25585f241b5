<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Text and start tags in the body (HTML Living Standard, section 13.2.6.4.7).
 *
 * @internal
 */
final class BodyRules
{
    public static function inBody(Construction $at, Token $token): void
    {
        match ($token->kind) {
            TokenKind::Doctype => null,
            TokenKind::Text => self::textInBody($at, $token->text),
            TokenKind::Start => self::startInBody($at, $token),
            TokenKind::End => EndTagRules::endInBody($at, $token),
        };
    }

    public static function textInBody(Construction $at, string $text): void
    {
        $text = str_replace("\0", '', $text);
        if ('' === $text) {
            return;
        }
        $at->planter->reconstruct();
        $at->planter->text($text);
        $at->framesetOk = $at->framesetOk && \strlen($text) === strspn($text, Construction::SPACE);
    }

    private static function startInBody(Construction $at, Token $token): void
    {
        match ($token->name) {
            'p', 'div', 'ul', 'ol', 'section', 'article', 'header', 'footer', 'nav', 'main', 'aside', 'address', 'blockquote', 'center',
            'details', 'dialog', 'dir', 'dl', 'fieldset', 'figcaption', 'figure', 'hgroup', 'listing', 'menu',
            'pre', 'search', 'summary' => self::block($at, $token),
            'a', 'b', 'big', 'code', 'em', 'font', 'i', 'nobr', 's', 'small', 'strike', 'strong', 'tt',
            'u' => self::formatting($at, $token),
            'li', 'dd', 'dt' => self::item($at, $token),
            'img', 'br', 'input', 'area', 'embed', 'keygen', 'wbr' => self::void($at, $token),
            'h1', 'h2', 'h3', 'h4', 'h5', 'h6' => self::heading($at, $token),
            'table' => self::table($at, $token),
            'base', 'basefont', 'bgsound', 'link', 'meta', 'noframes', 'script', 'style', 'template', 'title' => $at->headElement($token),
            'textarea', 'xmp', 'iframe', 'noembed', 'noscript' => self::rawInBody($at, $token),
            'form' => self::startForm($at, $token),
            'button' => self::button($at, $token),
            'select' => self::select($at, $token),
            'option', 'optgroup' => self::option($at, $token),
            'hr' => self::rule($at, $token),
            'param', 'source', 'track' => $at->planter->put($token),
            'svg', 'math' => self::foreign($at, $token),
            'rb', 'rtc', 'rp', 'rt' => self::ruby($at, $token),
            'applet', 'marquee', 'object' => self::marked($at, $token),
            'image' => self::startInBody($at, new Token(TokenKind::Start, 'img', '', $token->attributes)),
            'html' => $at->moreOfHtml($token),
            'body' => self::moreOfBody($at, $token),
            'frameset' => self::framesetInBody($at, $token),
            'plaintext' => self::plaintext($at, $token),
            'caption', 'col', 'colgroup', 'tbody', 'td', 'tfoot', 'th', 'thead', 'tr', 'frame', 'head' => null,
            default => self::ordinary($at, $token),
        };
    }

    private static function moreOfBody(Construction $at, Token $token): void
    {
        if ($at->stack->count() > 1 && $at->stack->at(1)->isHtml('body') && null === $at->stack->lastPlace('template')) {
            $at->framesetOk = false;
            $at->planter->tree->addAttributes($at->stack->at(1)->node, $token->attributes);
        }
    }

    private static function framesetInBody(Construction $at, Token $token): void
    {
        if (!$at->framesetOk || $at->stack->count() < 2 || !$at->stack->at(1)->isHtml('body')) {
            return;
        }
        $at->planter->flushText();
        $at->planter->tree->remove($at->stack->at(1)->node);
        $at->stack->cut(1);
        $at->planter->open($token);
        $at->mode = Mode::InFrameset;
    }

    public static function closeParagraph(Construction $at): void
    {
        if ($at->stack->has('p', Kinds::BUTTON_SCOPE)) {
            $at->stack->closeImplied('p');
            $at->stack->popUntil(['p' => 1]);
        }
    }

    private static function block(Construction $at, Token $token): void
    {
        self::closeParagraph($at);
        $at->planter->open($token);
        if ('pre' === $token->name || 'listing' === $token->name) {
            $at->skipNewline = true;
            $at->framesetOk = false;
        }
    }

    private static function heading(Construction $at, Token $token): void
    {
        self::closeParagraph($at);
        if (MarkupVocabulary::Html === $at->stack->top()->vocabulary && isset(Kinds::HEADINGS[$at->stack->top()->name])) {
            $at->stack->pop();
        }
        $at->planter->open($token);
    }

    private static function startForm(Construction $at, Token $token): void
    {
        $inTemplate = null !== $at->stack->lastPlace('template');
        if (null !== $at->form && !$inTemplate) {
            return;
        }
        self::closeParagraph($at);
        $form = $at->planter->open($token);
        $at->form = $inTemplate ? $at->form : $form;
    }

    private static function item(Construction $at, Token $token): void
    {
        $at->framesetOk = false;
        $alike = 'li' === $token->name ? ['li' => 1] : ['dd' => 1, 'dt' => 1];
        for ($i = $at->stack->count() - 1; $i >= 0; --$i) {
            $one = $at->stack->at($i);
            if (MarkupVocabulary::Html === $one->vocabulary && isset($alike[$one->name])) {
                $at->stack->closeImplied($one->name);
                $at->stack->popUntil([$one->name => 1]);
                break;
            }
            if (Kinds::isSpecial($one) && !isset(['address' => 1, 'div' => 1, 'p' => 1][$one->name])) {
                break;
            }
        }
        self::block($at, $token);
    }

    private static function plaintext(Construction $at, Token $token): void
    {
        self::block($at, $token);
        $at->tokenizer->readRaw('plaintext');
    }

    private static function button(Construction $at, Token $token): void
    {
        if ($at->stack->has('button')) {
            $at->stack->closeImplied();
            $at->stack->popUntil(['button' => 1]);
        }
        self::ordinary($at, $token);
        $at->framesetOk = false;
    }

    private static function select(Construction $at, Token $token): void
    {
        if ($at->stack->has('select')) {
            $at->stack->popUntil(['select' => 1]);

            return;
        }
        self::ordinary($at, $token);
        $at->framesetOk = false;
    }

    private static function option(Construction $at, Token $token): void
    {
        if ($at->stack->has('select')) {
            $at->stack->closeImplied('option' === $token->name ? 'optgroup' : '');
        } elseif ($at->stack->top()->isHtml('option')) {
            $at->stack->pop();
        }
        self::ordinary($at, $token);
    }

    private static function formatting(Construction $at, Token $token): void
    {
        $open = 'a' === $token->name ? $at->planter->formattingOf('a') : null;
        if (null !== $open) {
            $at->planter->adopt('a');
            $at->planter->unformat($open);
            $at->stack->remove($open);
        }
        $at->planter->reconstruct();
        if ('nobr' === $token->name && $at->stack->has('nobr')) {
            $at->planter->adopt('nobr');
            $at->planter->reconstruct();
        }
        $element = $at->planter->open($token);
        if ($at->stack->top() === $element) {
            $at->planter->format($element);
        }
    }

    private static function marked(Construction $at, Token $token): void
    {
        self::ordinary($at, $token);
        $at->planter->mark();
        $at->framesetOk = false;
    }

    private static function table(Construction $at, Token $token): void
    {
        if (!$at->quirks) {
            self::closeParagraph($at);
        }
        $at->planter->open($token);
        $at->framesetOk = false;
        $at->mode = Mode::InTable;
    }

    private static function rule(Construction $at, Token $token): void
    {
        self::closeParagraph($at);
        if ($at->stack->has('select')) {
            $at->stack->closeImplied();
        }
        $at->planter->put($token);
        $at->framesetOk = false;
    }

    public static function void(Construction $at, Token $token): void
    {
        if ('input' === $token->name && $at->stack->has('select')) {
            $at->stack->popUntil(['select' => 1]);
        }
        $at->planter->reconstruct();
        $at->planter->put($token);
        $hidden = 'input' === $token->name && 'hidden' === strtolower($token->attributes['type'] ?? '');
        $at->framesetOk = $at->framesetOk && $hidden;
    }

    private static function rawInBody(Construction $at, Token $token): void
    {
        if ('xmp' === $token->name) {
            self::closeParagraph($at);
            $at->planter->reconstruct();
        }
        $at->framesetOk = $at->framesetOk && !isset(['xmp' => 1, 'iframe' => 1, 'textarea' => 1][$token->name]);
        $at->raw($token);
    }

    private static function ruby(Construction $at, Token $token): void
    {
        if ($at->stack->has('ruby')) {
            $at->stack->closeImplied('rb' === $token->name || 'rtc' === $token->name ? '' : 'rtc');
        }
        $at->planter->open($token);
    }

    private static function foreign(Construction $at, Token $token): void
    {
        $at->planter->reconstruct();
        $vocabulary = 'svg' === $token->name ? MarkupVocabulary::Svg : MarkupVocabulary::Math;
        $token->closesItself ? $at->planter->put($token, $vocabulary) : $at->planter->open($token, $vocabulary);
    }

    private static function ordinary(Construction $at, Token $token): void
    {
        $at->planter->reconstruct();
        $at->planter->open($token);
    }
}
